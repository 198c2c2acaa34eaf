// Words put together, and words that several screens have for the same.
import type { SceneMatch } from "../api/types";

export function listed(words: readonly string[]): string {
  return words.length < 2 ? (words[0] ?? "") : `${words.slice(0, -1).join(", ")} and ${words.at(-1)}`;
}

/** How a match was found, in words. */
export const FOUND_BY: Record<NonNullable<SceneMatch["by"]>, string> = {
  choice: "chosen by hand",
  name: "by name",
  id: "by id",
  "folded name": "by a like name",
  "shape and size": "≈ by shape and size",
  place: "≈ by place",
};
