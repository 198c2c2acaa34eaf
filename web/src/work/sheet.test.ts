import { expect, it } from "vitest";
import type { SceneMatch } from "../api/types";
import { choices, choose, isSure } from "../ui/matches";
import { isTable, pastedAt, rowOf, stateOf, troubleIn } from "./sheet";

const place = { translation0: "1", translation1: "-2.5", translation2: "3/4" };

it("makes a row of what is whole and leaves out the rest", () => {
  expect(rowOf("a", place)).toEqual({ object: "a", space: "world", translation: [1, -2.5, 0.75] });
  expect(rowOf("a", { ...place, space: "parent", euler0: "30" })).toEqual({
    object: "a",
    space: "parent",
    translation: [1, -2.5, 0.75],
  });
  expect(rowOf("a", { euler0: "30" })).toBeNull();
});

it("tells empty, half typed, wrong and whole apart", () => {
  expect(stateOf({}, "scale")).toBe("empty");
  expect(stateOf({ scale0: "1", scale1: " " }, "scale")).toBe("half");
  expect(stateOf({ scale0: "one" }, "scale")).toBe("wrong");
  expect(stateOf(place, "translation")).toBe("whole");
});

it("says what is missing, and where", () => {
  const nameOf = (id: string) => ({ a: "Crate" })[id] ?? id;
  expect(troubleIn({ a: place }, nameOf)).toBeNull();
  expect(troubleIn({ a: { euler0: "1" } }, nameOf)).toBe("Crate: all three of the angles are needed.");
  expect(troubleIn({ a: { scale1: "x" } }, nameOf)).toBe(
    "Crate: one of the scales cannot be read: “x” is not a number.",
  );
});

const MATCHES: SceneMatch[] = [
  { target: "gate", name: "Gate", submitted: "Gate.001", by: "folded name" },
  { target: "post", name: "Post", submitted: "Cube", by: "shape and size" },
  { target: "lamp", name: "Lamp", submitted: null, by: null },
];

it("one object of a file is chosen for one object at most, and given back", () => {
  const there = choose(MATCHES, "post", "Gate.001");
  expect(there.map((match) => match.submitted)).toEqual(["Cube", "Gate.001", null]);
  expect(choose(there, "post", "Cube").map((match) => match.submitted)).toEqual(["Gate.001", "Cube", null]);
  const chosen = choose(MATCHES, "lamp", "Cube");
  expect(chosen.map((match) => match.submitted)).toEqual(["Gate.001", null, "Cube"]);
  expect(choose(chosen, "gate", "").map((match) => match.submitted)).toEqual([null, null, "Cube"]);
});

it("a guess and a gap are to be looked at, a name and a choice are not", () => {
  expect(MATCHES.map(isSure)).toEqual([true, false, false]);
  expect(choose(MATCHES, "post", "").map(isSure)).toEqual([true, true, false]);
});

it("objects of a file that are called the same are told apart by their ids", () => {
  const texts = choices({ a: "Cube", b: "Cube", c: "Gate" }).map((choice) => choice.text);
  expect(texts).toEqual(["Cube (a)", "Cube (b)", "Gate"]);
});

it("a pasted table fills its cells from the field on, as they were written", () => {
  const pasted = pastedAt("-3\t0,15\t-2\n1\t\t2.5", ["a", "b", "c"], "b", "translation0");
  expect(pasted).toEqual({
    texts: {
      b: { translation0: "-3", translation1: "0,15", translation2: "-2" },
      c: { translation0: "1", translation1: "", translation2: "2.5" },
    },
  });
  expect(isTable("-3\t0.15")).toBe(true);
  expect(isTable("-3.5")).toBe(false);
  expect(isTable("0,5")).toBe(false);
});

it("a table that does not fit is refused whole, with the reason", () => {
  expect(pastedAt("1\n2\n3", ["a", "b"], "a", "translation0")).toMatchObject({
    why: expect.stringContaining("3 rows"),
  });
  expect(pastedAt("1\t2\t3", ["a"], "a", "scale1")).toMatchObject({
    why: expect.stringContaining("3 columns"),
  });
});
