import { expect, it } from "vitest";
import type { SceneMatch } from "../api/types";
import { chosenBy } from "./MatchingCard";

const match = (target: string, submitted: string | null, by: SceneMatch["by"]): SceneMatch => ({
  target,
  name: target,
  submitted,
  by,
});
const FOUND = [match("front", "a", "place"), match("back", "b", "place"), match("roof", null, null)];

it("only what was chosen by hand is kept; what is found stays to be found", () => {
  expect(chosenBy({}, FOUND, "roof", "")).toEqual({ roof: null });
  expect(chosenBy({ roof: null }, FOUND, "front", "")).toEqual({ roof: null, front: null });
});

it("two that were taken for each other change places", () => {
  expect(chosenBy({}, FOUND, "front", "b")).toEqual({ front: "b", back: "a" });
});

it("what loses its object without getting another is looked for again", () => {
  expect(chosenBy({}, FOUND, "roof", "a")).toEqual({ roof: "a" });
  expect(chosenBy({ front: "a" }, FOUND, "roof", "a")).toEqual({ roof: "a" });
});

it("a choice is taken back, and the others stay", () => {
  expect(chosenBy({ front: "b", back: "a", roof: null }, FOUND, "front", "as found")).toEqual({
    back: "a",
    roof: null,
  });
});

it("two choices, one right after the other, are both kept, although the first was not answered yet", () => {
  const first = chosenBy({ front: "b", back: "a" }, FOUND, "front", "as found");
  expect(chosenBy(first, FOUND, "back", "as found")).toEqual({});
  // What was told before the first choice gives nothing away twice.
  expect(chosenBy(chosenBy({}, FOUND, "roof", "b"), FOUND, "front", "b")).toEqual({ front: "b", back: "a" });
  expect(chosenBy({ roof: "a" }, FOUND, "front", "b")).toEqual({ roof: "a", front: "b" });
});
