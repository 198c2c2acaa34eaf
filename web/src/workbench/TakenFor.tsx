// What was taken for what, where things have to be made: seen while working, and corrected by hand.
import type { SceneMatch, SceneObject } from "../api/types";
import { choices, choose, FOUND_BY, isSure } from "../ui/matches";
import { Heading } from "../ui/parts";
import type { Choices } from "./draft";

const AS_FOUND = "as found";

type Props = {
  matches: readonly SceneMatch[];
  objects: readonly SceneObject[];
  known: ReadonlySet<string>;
  onMatch: (matches: Choices) => void;
};

export function TakenFor({ matches, objects, known, onMatch }: Props) {
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
              onChange={(event) => onMatch(chosenBy(matches, match.target, event.target.value))}
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

/** All that is chosen by hand, after one more choice. What had the object until then is looked for again. */
export function chosenBy(matches: readonly SceneMatch[], target: string, submitted: string): Choices {
  const others = matches.filter((match) => match.target !== target);
  const asFound = submitted === AS_FOUND;
  const next = asFound ? others : choose(matches, target, submitted);
  const byHand = next.filter(
    (match) => match.by === "choice" && (match.submitted || match.target === target),
  );
  return Object.fromEntries(byHand.map((match) => [match.target, match.submitted]));
}
