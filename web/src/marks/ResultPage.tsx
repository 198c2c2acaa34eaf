// A checked submission: points, why it missed, each check down to the number, and the way there beside the right one.
import { Printer } from "lucide-react";
import { type ReactNode, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import type { Cause, CheckResult, RemarkPlace, Result } from "../api/types";
import { assignmentTrail } from "../ui/Crumbs";
import { passingIds } from "../ui/checks";
import { FOUND_BY } from "../ui/matches";
import { counted, dateTime, percent, short } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button, Heading } from "../ui/parts";
import { HeadTools } from "../ui/Shell";
import { ActionLink } from "../ui/table";
import { cornersOf } from "../view3d/bounds";
import { type Stand, workIds } from "../view3d/camera";
import { useShapes } from "../view3d/context";
import { Drawing } from "../view3d/Drawing";
import { SIDE_WORDS } from "../view3d/elevations";
import { DownloadDialog } from "../work/DownloadDialog";
import { ByHand } from "./ByHand";
import { Causes } from "./Causes";
import { CheckTable } from "./CheckTable";
import { MissLine } from "./MissLine";
import { Remarks } from "./Review";
import { ReviewNav } from "./ReviewNav";
import { standOf, viewOf } from "./remarks";
import { Scrub } from "./Scrub";
import { StepsView } from "./StepsView";
import { handedIn, missOf, sceneAfter } from "./scene";
import { type Place, usePlayed } from "./usePlayed";

const COMES_MS = 700;

export function Component() {
  return (
    <Page
      what="result"
      by="submission"
      kept="for good" // a submission never changes; what an instructor says of it asks anew
      load={api.result}
      again={(result) => !result.explained && COMES_MS}
      title={(result) => (result && !result.own ? result.student : "Result")}
      trail={(result) =>
        result.own
          ? [{ to: `/bench/${result.assignment}`, text: result.exercise.title }]
          : assignmentTrail({ ...result, title: result.exercise.title })
      }
      waiting="Loading the result…"
    >
      {(result) =>
        result.feedback_at ? (
          <FeedbackLater result={result} at={result.feedback_at} />
        ) : (
          <ResultScreen result={result} />
        )
      }
    </Page>
  );
}

/** A submission whose feedback is shown later. */
function FeedbackLater({ result, at }: { result: Result; at: string }) {
  return (
    <main className="mx-auto w-full max-w-3xl flex-1 space-y-3 overflow-y-auto px-6 py-8">
      <p className="text-lg font-semibold">✓ Submitted</p>
      <p>
        Attempt {result.number} came {dateTime(result.submitted_at)}
        {result.days_late > 0 && ", late"}. Feedback appears on {dateTime(at)}, after the due date.
      </p>
      <Tries result={result} />
      <p>
        <ActionLink to="/">Start page</ActionLink>
      </p>
    </main>
  );
}

/** back: the way back, where it is not a student's work. */
export function ResultScreen({ result, back }: { result: Result; back?: ReactNode }) {
  const { report, steps, reference } = result;
  const [lit, setLit] = useState<string | null>(null);
  const [place, setPlace] = useState<Place>({ own: steps.length, right: null });
  const [playing, setPlaying] = useState(false);
  const views = useRef<HTMLDivElement>(null);
  const standNow = useRef<Stand | null>(null);
  const [stand, setStand] = useState<Stand | null>(null);
  const [picked, setPicked] = useState<string | null>(null);
  const ends = { own: steps.length, right: reference?.length ?? 0 };
  usePlayed(playing, place, ends, setPlace, () => setPlaying(false));
  const go = (part: Partial<Place>) => {
    setPlaying(false);
    setPlace({ ...place, ...part });
  };
  const show = (cause: Cause) => {
    setPlace({ own: Math.max((result.parted ?? 1) - 1, 0), right: Math.max((cause.step ?? 1) - 1, 0) });
    setPlaying(true);
    views.current?.scrollIntoView({ block: "nearest" }); // in low windows it is below the feedback
  };
  const showRemark = (remark: RemarkPlace) => {
    go({ own: remark.view?.step ?? remark.step ?? steps.length });
    setLit(remark.check ?? null);
    setPicked(remark.object ?? null);
    setStand(standOf(remark));
    views.current?.scrollIntoView({ block: "nearest" });
  };
  const litCheck = report.checks.find((check) => check.id === lit);
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[minmax(0,2fr)_minmax(0,3fr)] max-[1180px]:grid-cols-[minmax(0,1fr)_minmax(0,2fr)] cramped:flex cramped:flex-col cramped:overflow-y-auto print:block">
      <HeadTools>
        {!back && (
          <DownloadDialog
            sources={[{ name: "Submitted work", address: `/api/submissions/${result.submission}/scene` }]}
            conventions={result.exercise.conventions}
          />
        )}
        <Button className="print:hidden" onClick={() => window.print()}>
          <Printer size={14} aria-hidden />
          Print
        </Button>
      </HeadTools>
      <div
        ref={views}
        className="flex min-h-0 flex-col border-r border-hairline cramped:order-last cramped:shrink-0 print:hidden"
      >
        <Views
          result={result}
          place={place}
          litCheck={litCheck}
          picked={picked}
          stand={stand}
          onStand={(now) => {
            standNow.current = now;
          }}
        />
        {steps.length > 0 && (
          <Scrub label="Submitted" steps={steps} at={place.own} onGo={(own) => go({ own })} />
        )}
        {reference &&
          (place.right === null ? (
            <div className="border-t border-hairline bg-sheet px-2 py-1">
              <Button onClick={() => go({ right: reference.length })}>Compare with the reference</Button>
            </div>
          ) : (
            <Scrub label="Reference" steps={reference} at={place.right} onGo={(right) => go({ right })} />
          ))}
        <p className="min-h-14 border-t border-hairline bg-sheet px-3 py-2 text-sm" aria-live="polite">
          {litCheck?.text ?? "Point at a check to see how its number was measured."}
        </p>
      </div>
      <div className="min-h-0 space-y-6 overflow-y-auto p-6 wrap-anywhere cramped:shrink-0 cramped:overflow-visible print:overflow-visible print:p-0">
        <Summary result={result} back={back} />
        <ByHand result={result} />
        <Causes result={result} onShow={show} />
        <PrintedElevations result={result} />
        {report.checks.length > 0 ? (
          <CheckTable result={result} lit={lit} onLight={setLit} />
        ) : (
          <p className="text-ink-soft">In this exercise, feedback is the points only.</p>
        )}
        <Matches result={result} />
        <CameAs result={result} />
        <Remarks result={result} viewNow={() => viewOf(place.own, standNow.current)} onShow={showRemark} />
        {steps.length > 0 && (
          <section>
            <Heading>{counted(steps.length, "step")} submitted</Heading>
            <ol className="list-inside list-decimal space-y-0.5">
              {steps.map((step, i) => (
                <li key={i} className={i + 1 === result.parted ? "font-semibold" : ""}>
                  {step.sentence}
                </li>
              ))}
            </ol>
          </section>
        )}
      </div>
    </main>
  );
}

type ViewsProps = {
  result: Result;
  place: Place;
  litCheck: CheckResult | undefined;
  /** The object that a remark is on. */
  picked: string | null;
  stand: Stand | null;
  onStand: (stand: Stand) => void;
};

function Views({ result, place, litCheck, picked, stand, onStand }: ViewsProps) {
  const { exercise, steps, reference } = result;
  const own = useMemo(
    () => (place.own === steps.length ? handedIn(result) : sceneAfter(exercise, steps, place.own)),
    [result, exercise, steps, place.own],
  );
  const right = useMemo(
    () => (reference && place.right !== null ? sceneAfter(exercise, reference, place.right) : null),
    [exercise, reference, place.right],
  );
  const ends = litCheck && place.own === steps.length ? missOf(litCheck, exercise, own.poses) : null;
  const passing = useMemo(() => passingIds(result.report.checks), [result]);
  const lit = useMemo(() => new Set(litCheck ? [litCheck.id] : []), [litCheck]);
  const chosen = litCheck ? [litCheck.object] : picked ? [picked] : [];
  const seen = { exercise, passing, lit, chosen };
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <StepsView {...seen} shown={own} name={right ? "Submitted" : ""} stand={stand} onStand={onStand}>
        {ends && <MissLine ends={ends} />}
      </StepsView>
      {right && <StepsView {...seen} shown={right} name="The reference" />}
    </div>
  );
}

/** On paper the three elevations stand for the view. */
function PrintedElevations({ result }: { result: Result }) {
  const { exercise } = result;
  const shown = useMemo(() => handedIn(result), [result]);
  const shapes = useShapes(shown.objects, exercise.conventions.up);
  const around = useMemo(() => {
    const work = new Set(workIds(exercise));
    const free = shown.objects.filter((item) => work.has(item.id));
    return [...cornersOf(free, shown.poses), ...cornersOf(exercise.target_objects, exercise.target)];
  }, [exercise, shown]);
  return (
    <div className="hidden grid-cols-3 gap-3 print:grid">
      {(["front", "side", "top"] as const).map((side) => (
        <figure key={side} className="border border-hairline">
          <Drawing
            side={side}
            objects={shown.objects}
            poses={shown.poses}
            around={around}
            exercise={exercise}
            chosen={[]}
            shapes={shapes}
            tolerance={0.001}
          />
          <figcaption className="px-1 text-sm">{SIDE_WORDS[side]}</figcaption>
        </figure>
      ))}
    </div>
  );
}

/** What was taken for what in a scene file, where it was not called the same. */
function Matches({ result }: { result: Result }) {
  const matches = result.report.matches.filter((match) => match.by !== "name");
  if (matches.length === 0) return null;
  const name = (id: string) => result.exercise.objects.find((item) => item.id === id)?.name ?? id;
  return (
    <section aria-label="Matching">
      <Heading>
        {result.kind === "steps" ? "How added objects were matched" : "How objects in the file were matched"}
      </Heading>
      <ul>
        {matches.map((match) => (
          <li key={match.target}>
            {result.in_file[match.submitted] ?? match.submitted} for {name(match.target)},{" "}
            {FOUND_BY[match.by]}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The file that it came as, and what could not be read of it. */
function CameAs({ result }: { result: Result }) {
  const { file, notes, submission } = result;
  if (!file && notes.length === 0) return null;
  return (
    <section aria-label="The file">
      <Heading>Submitted as a file</Heading>
      {file && (
        <p>
          <a href={`/api/submissions/${submission}/file`} className="text-plum underline">
            {file}
          </a>
          , as received.
        </p>
      )}
      <ul className="list-disc pl-5">
        {notes.map((note) => (
          <li key={note}>{note}</li>
        ))}
      </ul>
    </section>
  );
}

/** All attempts of the same student, each to be opened. */
function Tries({ result }: { result: Result }) {
  if (result.attempts.length < 2) return null;
  return (
    <nav aria-label="Attempts" className="mt-1 flex flex-wrap gap-x-3 print:hidden">
      {result.attempts.map(({ submission, number, mark }) =>
        submission === result.submission ? (
          <strong key={submission} aria-current="page">
            Attempt {number}: {percent(mark.score)}
          </strong>
        ) : (
          <Link key={submission} to={`/result/${submission}`} className="text-plum underline">
            Attempt {number}: {percent(mark.score)}
          </Link>
        ),
      )}
    </nav>
  );
}

/** What became better and worse since the try before. */
function Since({ result: { since } }: { result: Result }) {
  if (!since) return null;
  const { number, better, worse } = since;
  if (better.length + worse.length === 0)
    return <p className="text-ink-soft">Every check has the same points as in attempt {number}.</p>;
  return (
    <p>
      Since attempt {number}:{" "}
      {better.length > 0 && (
        <span className="text-pass">
          ▲ better: {better.join(", ")}
          {worse.length > 0 && "; "}
        </span>
      )}
      {worse.length > 0 && <span className="text-fail">▼ worse: {worse.join(", ")}</span>}
    </p>
  );
}

function Summary({ result, back }: { result: Result; back: ReactNode }) {
  const { mark, report } = result;
  const whence = result.kind === "sheet" && !result.file ? "sheet" : "bench";
  return (
    <header className="flex flex-wrap items-start gap-x-6 gap-y-2">
      <div>
        <p className="text-lg font-semibold">
          {short(Number(mark.points.toFixed(2)))} of {short(mark.of)} {mark.of === 1 ? "point" : "points"}{" "}
          {mark.to_come > 0 && (
            <span className="font-normal">and up to {counted(mark.to_come, "point")} to come </span>
          )}
          {mark.score !== null && (
            <span className={mark.passed ? "text-pass" : "text-fail"}>
              {mark.passed ? "✓ Passed" : "✕ Not passed"}
            </span>
          )}
        </p>
        {result.excused && (
          <p className="text-ink-soft">
            {result.own ? "You are" : `${result.student} is`} excused: this is left out of the total.
          </p>
        )}
        {mark.changed && (
          <p className="text-ink-soft">
            {result.own ? "Your" : "An"} instructor changed the mark; the program gave{" "}
            {short(Number(report.points.toFixed(2)))} of {short(report.of)}.
          </p>
        )}
        <p className="text-ink-soft">
          {!back && (
            <>
              {!result.own && (
                <>
                  <Link
                    to={`/classes/${result.class_id}/students/${result.person}`}
                    className="font-semibold text-plum underline underline-offset-2"
                  >
                    {result.student}
                  </Link>
                  ,{" "}
                </>
              )}
              {result.own ? "Attempt" : "attempt"} {result.number}, submitted {dateTime(result.submitted_at)}
              {lateWords(result)}.{" "}
            </>
          )}
          Pass mark: {percent(result.pass_mark)}.
        </p>
        <Tries result={result} />
        <Since result={result} />
      </div>
      <div className="ml-auto print:hidden">
        {back ? (
          back
        ) : result.own ? (
          <ActionLink to={`/${whence}/${result.assignment}`} main>
            Continue on the {whence}
          </ActionLink>
        ) : (
          <ReviewNav result={result} />
        )}
      </div>
    </header>
  );
}

/** How late the submission is, and what that costs. */
function lateWords({ days_late, kept }: Result): string {
  if (days_late === 0) return "";
  const late = `, ${counted(days_late, "day")} late`;
  if (kept === null) return `${late}: does not count`;
  return kept < 1 ? `${late}: ${percent(kept)} of the mark counts` : late;
}
