// A checked submission: how many points, each check down to the number, and the submission over the target.
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useParams } from "react-router";
import { api } from "../api/client";
import type { Poses, Result } from "../api/types";
import { passingIds } from "../ui/checks";
import { counted, dateTime, percent, short } from "../ui/numbers";
import { ErrorNote, Heading, Waiting } from "../ui/parts";
import { Shell } from "../ui/Shell";
import { SignedIn } from "../ui/session";
import { ActionLink } from "../ui/table";
import { useShapes } from "../view3d/context";
import { SceneView } from "../view3d/SceneView";
import { CheckTable } from "./CheckTable";

export function Component() {
  return (
    <SignedIn>
      <Loaded />
    </SignedIn>
  );
}

function Loaded() {
  const submission = Number(useParams().submission);
  const result = useQuery({
    queryKey: ["result", submission],
    queryFn: () => api.result(submission),
    staleTime: Number.POSITIVE_INFINITY, // a submission never changes
  });
  return (
    <Shell title={result.data ? `${result.data.exercise.title}: result` : "Result"}>
      {result.isPending && <Waiting what="Fetching the result…" />}
      {result.error && (
        <main>
          <ErrorNote text={result.error.message} retry={() => result.refetch()} />
        </main>
      )}
      {result.data && <ResultScreen result={result.data} />}
    </Shell>
  );
}

const FIT = { what: "work", turn: 0 } as const;

function ResultScreen({ result }: { result: Result }) {
  const { exercise, report, steps } = result;
  const [lit, setLit] = useState<string | null>(null);
  const { objects, poses } = useMemo(() => finalScene(result), [result]);
  const shapes = useShapes(objects, exercise.conventions.up);
  const passing = useMemo(() => passingIds(report.checks), [report]);
  const litSet = useMemo(() => new Set(lit ? [lit] : []), [lit]);
  const litCheck = report.checks.find((check) => check.id === lit);
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[minmax(0,2fr)_minmax(0,3fr)] max-[1180px]:grid-cols-[minmax(0,1fr)_minmax(0,2fr)]">
      <div className="relative min-h-0 border-r border-hairline">
        <SceneView
          exercise={exercise}
          objects={objects}
          poses={poses}
          shapes={shapes}
          chosen={litCheck ? [litCheck.object] : []}
          passing={passing}
          lit={litSet}
          fit={FIT}
          label="The submission, with the target as a dashed outline"
        />
      </div>
      <div className="min-h-0 space-y-6 overflow-y-auto p-6">
        <Summary result={result} />
        <CheckTable checks={report.checks} lit={lit} onLight={setLit} />
        <section>
          <Heading>{counted(steps.length, "step")} handed in</Heading>
          <ol className="list-inside list-decimal space-y-0.5">
            {steps.map((step, i) => (
              <li key={i}>{step.sentence}</li>
            ))}
          </ol>
        </section>
      </div>
    </main>
  );
}

function Summary({ result }: { result: Result }) {
  const { report } = result;
  return (
    <header className="flex flex-wrap items-start gap-x-6 gap-y-2">
      <div>
        <p className="text-lg font-semibold">
          {short(report.points)} of {short(report.of)} points{" "}
          <span className={report.passed ? "text-pass" : "text-fail"}>
            {report.passed ? "✓ Passed" : "✕ Not passed"}
          </span>
        </p>
        <p className="text-ink-soft">
          {result.own ? "Try" : `${result.student}, try`} {result.number}, handed in{" "}
          {dateTime(result.handed_in_at)}
          {result.late && ", late"}. Passing takes {percent(result.pass_mark)}.
        </p>
      </div>
      <div className="ml-auto">
        {result.own ? (
          <ActionLink to={`/bench/${result.assignment}`} main>
            Back to the bench
          </ActionLink>
        ) : (
          <ActionLink to={`/class/${result.assignment}`}>All submissions</ActionLink>
        )}
      </div>
    </header>
  );
}

/** What there is after the last step, and where. */
function finalScene({ exercise, steps }: Result) {
  const poses = Object.assign({}, exercise.start, ...steps.map((step) => step.changed)) as Poses;
  return { poses, objects: [...steps].reverse().find((step) => step.objects)?.objects ?? exercise.objects };
}
