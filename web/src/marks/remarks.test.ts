import { expect, test } from "vitest";
import type { Result } from "../api/types";
import { keysOf } from "./ByHand";
import { placesIn, placeWords, standOf, viewOf } from "./remarks";

const RESULT = {
  report: { checks: [{ id: "c1", label: "Position of Crate" }] },
  exercise: { objects: [{ id: "crate", name: "Crate" }] },
  placed: { crate: {}, "box.001": {} },
  in_file: { "box.001": "Box" },
  steps: [{ sentence: "Move Crate by 1 m." }],
} as unknown as Result;

test("a remark can be on the whole, a check, an object or a step", () => {
  expect(placesIn(RESULT).map((each) => each.text)).toEqual([
    "the whole submission",
    "check: Position of Crate",
    "object: Crate",
    "object: Box",
    "step 1: Move Crate by 1 m.",
  ]);
});

test("every place is said in words, and one that is not shown as a check", () => {
  for (const { text, place } of placesIn(RESULT)) expect(placeWords(place, RESULT)).toBe(`On ${text}`);
  const gone = { check: "hidden", object: null, step: null, view: null };
  expect(placeWords(gone, RESULT)).toBe("On a check");
});

test("the view of a remark comes back as it was", () => {
  const stand = { eye_world: [1, 2, 3], middle_world: [0, 0, 0] } as const;
  const place = { check: null, object: null, step: null, view: viewOf(2, stand) };
  expect(standOf(place)).toEqual(stand);
  expect(standOf({ ...place, view: viewOf(2, null) })).toBeNull();
});

test.each([
  [3, [0, 1, 2, 3]],
  [2.5, [0, 1, 2]],
  [0, [0]],
  [20, [0, 1, 2, 3, 4, 5, 6, 7, 8, 9]],
])("%s points have the keys %j", (of, keys) => {
  expect(keysOf(of)).toEqual(keys);
});
