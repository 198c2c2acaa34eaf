import { expect, it } from "vitest";
import type { SceneMatch } from "../api/types";
import { chosenBy } from "./TakenFor";

const match = (target: string, submitted: string | null, by: SceneMatch["by"]): SceneMatch => ({
  target,
  name: target,
  submitted,
  by,
});
const FOUND = [match("front", "a", "place"), match("back", "b", "place"), match("roof", null, null)];

it("only what was chosen by hand is kept; what is found stays to be found", () => {
  expect(chosenBy(FOUND, "roof", "")).toEqual({ roof: null });
  expect(chosenBy(FOUND, "front", "")).toEqual({ front: null });
});

it("two that were taken for each other change places", () => {
  expect(chosenBy(FOUND, "front", "b")).toEqual({ front: "b", back: "a" });
});

it("what loses its object without getting another is looked for again", () => {
  expect(chosenBy(FOUND, "roof", "a")).toEqual({ roof: "a" });
});

it("a choice is taken back, and the others stay", () => {
  const chosen = [match("front", "b", "choice"), match("back", "a", "choice"), match("roof", null, "choice")];
  expect(chosenBy(chosen, "front", "as found")).toEqual({ back: "a" });
});
