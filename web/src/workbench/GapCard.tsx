// What is still missing: for the chosen object in numbers, for the others as one line a check.
import type { CheckResult, SceneMatch, SceneObject } from "../api/types";
import { rowsOf } from "../ui/checks";
import { counted, placesFor, signed } from "../ui/numbers";
import { Heading, VerdictMark } from "../ui/parts";
import { ToleranceBar } from "../ui/ToleranceBar";
import type { Choices } from "./draft";
import { MatchingCard } from "./MatchingCard";

type Props = {
  gaps: readonly CheckResult[];
  /** What was taken for each object that has to be made. */
  matches: readonly SceneMatch[];
  objects: readonly SceneObject[];
  /** The objects of the target, by id. */
  known: ReadonlySet<string>;
  chosen: string | null;
  onChoose: (id: string) => void;
  /** What of it was chosen by hand. */
  byHand: Choices;
  onMatch: (matches: Choices) => void;
};

export function GapCard({
  gaps,
  matches,
  objects,
  known,
  chosen: chosenId,
  onChoose,
  byHand,
  onMatch,
}: Props) {
  // Checks name the objects of the target; here is what stands for them.
  const target = matches.find((match) => match.submitted !== null && match.submitted === chosenId)?.target;
  const chosen = target ?? chosenId;
  const standIn = (id: string) => matches.find((match) => match.target === id)?.submitted ?? id;
  const passed = gaps.filter((gap) => gap.verdict === "pass").length;
  return (
    <section aria-label="Gaps">
      <Heading>
        {passed} of {counted(gaps.length, "check")} in place
      </Heading>
      <ul className="space-y-1">
        {gaps.map((gap) => (
          <li key={gap.id}>
            <button
              type="button"
              onClick={() => onChoose(standIn(gap.object))}
              className="flex w-full items-baseline gap-2 rounded-sm px-1 py-0.5 text-left hover:bg-well"
            >
              <span className={gap.object === chosen ? "font-semibold" : ""}>{gap.label}</span>
              <span className="ml-auto">
                <VerdictMark verdict={gap.verdict} standing />
              </span>
            </button>
            {gap.object === chosen && <Numbers gap={gap} />}
          </li>
        ))}
      </ul>
      <MatchingCard {...{ matches, objects, known, byHand, onMatch }} />
    </section>
  );
}

function Numbers({ gap }: { gap: CheckResult }) {
  const rows = rowsOf(gap);
  if (rows.length === 0) return <p className="mb-2 border-l-2 border-plum pl-2 text-sm">{gap.text}</p>;
  return (
    <div className="mb-2 border-l-2 border-plum pl-2">
      <p className="text-sm text-ink-soft">Difference{gap.space && `, in ${gap.space}`}:</p>
      <dl className="grid grid-cols-[auto_1fr_auto_auto] items-center gap-x-2 gap-y-1">
        {rows.map((row) => {
          const places = placesFor(row.tolerance);
          return (
            <div key={row.axis} className="contents">
              <dt className="font-mono">{row.axis}</dt>
              <ToleranceBar difference={row.difference} tolerance={row.tolerance} />
              <dd className="text-right font-mono whitespace-nowrap">
                {row.target === null ? row.difference.toFixed(places) : signed(row.difference, places)}{" "}
                {gap.unit}
              </dd>
              <dd className="font-mono text-sm whitespace-nowrap text-ink-soft">
                ± {row.tolerance} {gap.unit}
              </dd>
            </div>
          );
        })}
      </dl>
    </div>
  );
}
