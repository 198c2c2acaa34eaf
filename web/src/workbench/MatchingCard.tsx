// What was taken for what, where things have to be made: seen while working, and corrected by hand.
import type { SceneMatch, SceneObject } from "../api/types";
import { choices, FOUND_BY, isSure } from "../ui/matches";
import { Heading } from "../ui/parts";
import { Select } from "../ui/Select";
import type { Choices } from "./draft";

const AS_FOUND = "as found";

type Props = {
  matches: readonly SceneMatch[];
  objects: readonly SceneObject[];
  known: ReadonlySet<string>;
  /** What was chosen by hand so far. */
  byHand: Choices;
  onMatch: (matches: Choices) => void;
};

export function MatchingCard({ matches, objects, known, byHand, onMatch }: Props) {
  if (matches.length === 0) return null;
  const added = objects.filter((object) => !known.has(object.id));
  const options = choices(Object.fromEntries(added.map(({ id, name }) => [id, name])));
  return (
    <section aria-label="Matching" className="mt-3 border-t border-hairline pt-2">
      <Heading>Objects to make</Heading>
      <ul className="space-y-1">
        {matches.map((match) => (
          <li key={match.target} className="flex flex-wrap items-baseline gap-x-2">
            <span className="min-w-24 flex-1 font-semibold">{match.name}</span>
            <Select
              label={`Made for ${match.name}`}
              value={match.submitted ?? ""}
              disabled={added.length === 0}
              options={[
                { value: "", text: "not made" },
                ...options.map(({ id, text }) => ({ value: id, text })),
                ...(match.by === "choice" ? [{ value: AS_FOUND, text: "as matched automatically" }] : []),
              ]}
              onChange={(next) => onMatch(chosenBy(byHand, matches, match.target, next))}
              className="w-32"
            />
            {match.by && (
              <span
                className={`w-full text-right text-sm ${isSure(match) ? "text-ink-soft" : "font-semibold text-near"}`}
              >
                {FOUND_BY[match.by]}
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/**
 * All that is chosen by hand after one more choice. What had the object until then gets what this one had; where that is
 * nothing, it is looked for again. matches: as they were last told, which may be before the last choice.
 */
export function chosenBy(
  choices: Choices,
  matches: readonly SceneMatch[],
  target: string,
  submitted: string,
): Choices {
  const others = Object.entries(choices).filter(([id, taken]) => id !== target && taken !== submitted);
  if (submitted === AS_FOUND) return Object.fromEntries(others);
  const next: Record<string, string | null> = { ...Object.fromEntries(others), [target]: submitted || null };
  const former = matches.find((match) => match.target === target)?.submitted;
  const loser = matches.find((match) => match.target !== target && match.submitted === submitted);
  if (loser && former && !Object.values(next).includes(former)) next[loser.target] = former;
  return next;
}
