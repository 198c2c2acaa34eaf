// Does it separate? Which typical mistakes the checks tell from a right answer, and which tolerance would.
import { useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import type { Check, Plan, Separation } from "../api/types";
import { counted, short } from "../ui/numbers";
import { Button, Heading } from "../ui/parts";
import { type OnChecks, toleranceOf, unitOf, type Whole, withTolerance } from "./checks";
import { SeparationLine } from "./SeparationLine";

/** The mistake as the steps of a trial: what a student who made it would be told. */
function OpenMistake({ plan, mistake }: { plan: Plan; mistake: number }) {
  const navigate = useNavigate();
  const [problem, setProblem] = useState<string | null>(null);
  return (
    <>
      {problem && <span className="text-fail">{problem}</span>}
      <Button
        onClick={() =>
          void api.openMistake(plan.plan, mistake).then(
            () => navigate(`/workshop/${plan.plan}/trial`, { replace: true }),
            (error: Error) => setProblem(error.message),
          )
        }
      >
        Try as a student
      </Button>
    </>
  );
}

type SeparatesProps = {
  plan: Plan;
  answer: Whole;
  checks: readonly Check[];
  fresh: boolean;
  lit: Check | undefined;
  chosen: number | null;
  onChecks: OnChecks;
  onLight: (id: string) => void;
  onChoose: (trial: number | null) => void;
};

export function PassingMistakes(props: SeparatesProps) {
  const { plan, answer, checks, fresh, lit, chosen, onChecks, onLight, onChoose } = props;
  const { exercise } = answer;
  const separation = answer.separation!;
  const passing = separation.trials.flatMap((trial, i) =>
    trial.caught_by.length === 0 ? [{ trial, i }] : [],
  );
  const tolerance = lit && toleranceOf(lit);
  const trial = chosen === null ? undefined : separation.trials[chosen];
  return (
    <section aria-label="Which mistakes would pass?" className="mt-4">
      <Heading>Which mistakes would pass?</Heading>
      <p aria-live="polite" className={passing.length > 0 ? "text-fail" : "text-pass"}>
        {passing.length === 0
          ? `✓ All ${counted(separation.trials.length, "typical mistake")} are caught.`
          : `✕ ${passing.length} of ${counted(separation.trials.length, "typical mistake")} would pass.`}
        {!fresh && <span className="text-ink-soft"> Working it out…</span>}
      </p>
      {lit && tolerance !== null && tolerance !== undefined && (
        <SeparationLine
          separation={separation}
          check={lit.id}
          tolerance={tolerance}
          unit={unitOf(lit, exercise.conventions)}
          chosen={chosen}
          onTolerance={(next) => onChecks(withTolerance(checks, lit.id, next), `drag ${lit.id}`)}
          onChoose={onChoose}
        />
      )}
      <div className="flex min-h-10 items-start gap-2 text-sm">
        <p className="flex-1 text-ink-soft">
          {trial
            ? `${trial.text} ${trial.caught_by.length > 0 ? `Caught by ${trial.caught_by.join(", ")}.` : "It would pass."}`
            : "Select a mark to see its mistake. Drag the tolerance to see what would pass."}
        </p>
        {chosen !== null && (
          <>
            <OpenMistake plan={plan} mistake={chosen} />
            <Button onClick={() => onChoose(null)}>Close</Button>
          </>
        )}
      </div>
      <Alike separation={separation} />
      <ul className="space-y-1">
        {passing.map(({ trial: each, i }) => (
          <li key={i} className="flex flex-wrap items-baseline gap-2">
            <button type="button" onClick={() => onChoose(i)} className="min-w-40 flex-1 text-left">
              {each.text}
            </button>
            {each.tighter && (
              <Button
                onClick={() => {
                  const { check, tolerance: tighter } = each.tighter!;
                  onChecks(withTolerance(checks, check, tighter));
                  onLight(check);
                }}
              >
                ± {short(each.tighter.tolerance)} catches it
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Mistakes that lead to one spot: which of them it was, nobody can tell. */
function Alike({ separation }: { separation: Separation }) {
  const alike = separation.trials.filter((trial) => trial.same_spot.length > 0);
  if (alike.length === 0) return null;
  return (
    <details className="mb-2 text-sm">
      <summary className="cursor-pointer text-ink-soft">
        {counted(alike.length, "mistake")} cannot be told apart: they end at the same place
      </summary>
      <ul className="list-inside list-disc">
        {alike.map((trial) => (
          <li key={`${trial.step} ${trial.code} ${trial.text}`}>{trial.text}</li>
        ))}
      </ul>
    </details>
  );
}
