// What was taken for what of the exercise: how it was found, and another choice. Pure.
import type { SceneMatch } from "../api/types";

/** How a match was found, in words. */
export const FOUND_BY: Record<NonNullable<SceneMatch["by"]>, string> = {
  choice: "chosen by hand",
  name: "by name",
  id: "by id",
  "folded name": "by a similar name",
  "shape and size": "≈ by shape and size",
  place: "≈ by position",
};

/** A handed-in or added object chosen for one of the exercise, "" for none; whichever had it gets what that one had. */
export function choose(matches: readonly SceneMatch[], target: string, submitted: string): SceneMatch[] {
  const former = matches.find((match) => match.target === target)?.submitted ?? null;
  return matches.map((match) => {
    if (match.target === target) return { ...match, submitted: submitted || null, by: "choice" };
    return submitted && match.submitted === submitted ? { ...match, submitted: former, by: "choice" } : match;
  });
}

/** Tells a match that needs no second look from a guess or a gap. */
export function isSure(match: SceneMatch): boolean {
  const guessed = match.by === "shape and size" || match.by === "place";
  return match.by === "choice" || (match.submitted !== null && !guessed);
}

/** The objects to choose from, by id; of two that are called the same, each with its id. */
export function choices(named: Readonly<Record<string, string>>): { id: string; text: string }[] {
  const names = Object.values(named);
  const twice = new Set(names.filter((name, i) => names.indexOf(name) !== i));
  return Object.entries(named).map(([id, name]) => ({
    id,
    text: twice.has(name) ? `${name} (${id})` : name,
  }));
}
