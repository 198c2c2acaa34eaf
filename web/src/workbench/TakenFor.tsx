// What was taken for what, where things have to be made: seen while working, and corrected by hand.
import type { SceneMatch, SceneObject } from "../api/types";
import { choices, FOUND_BY, isSure } from "../ui/matches";
import { Heading } from "../ui/parts";
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

export function TakenFor({ matches, objects, known, byHand, onMatch }: Props) {
  if (matches.length === 0) return null;
  const added = objects.filter((object) => !known.has(object.id));
  const options = choices(Object.fromEntries(added.map(({ id, name }) => [id, name])));
  return (
    <section aria-label="What was taken for what" className="mt-3 border-t border-hairline pt-2">
      <Heading>To be made, and what you made for it</Heading>
      <ul className="space-y-1">
        {matches.map((match) => (
          <li key={match.target} className="flex flex-wrap items-baseline gap-x-2">
            <span className="min-w-24 flex-1 font-semibold">{match.name}</span>
            <select
              aria-label={`Made for ${match.name}`}
              value={match.submitted ?? ""}
              disabled={added.length === 0}
              onChange={(event) => onMatch(chosenBy(byHand, matches, match.target, event.target.value))}
              className="h-7 w-32 rounded-md border border-edge bg-sheet px-1 disabled:text-ink-soft"
            >
              <option value="">not made</option>
              {options.map(({ id, text }) => (
                <option key={id} value={id}>
                  {text}
                </option>
              ))}
              {match.by === "choice" && <option value={AS_FOUND}>as it is found</option>}
            </select>
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
