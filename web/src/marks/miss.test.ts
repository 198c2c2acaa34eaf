import { expect, test } from "vitest";
import type { CheckInsight } from "../api/types";
import { elevations, onPaper, passesAt, passingMistakes, reachOf, scaled, shapeOf } from "./miss";

const dot = (off: number, verdict: "pass" | "near" | "fail", miss = [off, 0, 0]) => ({
  person: 1,
  name: "Mira",
  submission: 1,
  miss,
  off,
  verdict,
});
const check = (more: Partial<CheckInsight>): CheckInsight => ({
  id: "a",
  kind: "position",
  label: "",
  space: "World",
  unit: "m",
  axes: ["X", "Y", "Z"],
  tolerance: [0.1, 0.1, 0.1],
  dots: [],
  lost: 0,
  passed: 0,
  mistakes: [],
  ...more,
});

test.each([
  [0.5, "pass", 1, true],
  [0.5, "pass", 0.4, false],
  [1.5, "near", 1, false],
  [1.5, "near", 1.5, true],
  [1.5, "near", 1.4, false],
  [1.0000001, "pass", 2, true], // a hair that the core let pass passes a wider one too
  [3, "fail", 2.9, false],
] as const)("%f tolerances off, %s: at %f it passes: %s", (off, verdict, factor, passes) => {
  expect(passesAt(dot(off, verdict), factor)).toBe(passes);
});

test("mistakes that a wider tolerance lets pass", () => {
  const mistakes = [
    { text: "a", off: 0.05 },
    { text: "b", off: 0.3 },
    { text: "c", off: 2 },
  ];
  const names = (factor: number) =>
    passingMistakes(check({ mistakes }), factor)
      .map(({ text }) => text)
      .join("");
  expect([names(0.4), names(1), names(3), names(20)]).toEqual(["", "a", "ab", "abc"]);
  const uneven = check({ mistakes, tolerance: [0.1, 0.4, 0.2] });
  expect(passingMistakes(uneven, 1).map(({ text }) => text)).toEqual(["a", "b"]); // the widest tolerance decides
});

test("what is drawn how", () => {
  expect(shapeOf(check({}))).toBe("around");
  expect(shapeOf(check({ axes: ["X"], tolerance: [0.1] }))).toBe("lines");
  expect(shapeOf(check({ kind: "size" }))).toBe("lines");
  expect(shapeOf(check({ kind: "rotation", axes: [], unit: "°" }))).toBe("dial");
  expect(shapeOf(check({ kind: "rotation", axes: [], unit: "rad" }))).toBe("dial");
});

test("the axes of the elevations, whichever is up", () => {
  expect(elevations("y").map(({ across, along }) => [across, along])).toEqual([
    [0, 1],
    [2, 1],
    [0, 2],
  ]);
  expect(elevations("z").map(({ across, along }) => [across, along])).toEqual([
    [0, 2],
    [1, 2],
    [0, 1],
  ]);
});

test("the paper reaches to the dots, but not to one that is a house away", () => {
  expect(reachOf(check({ dots: [dot(1, "pass", [0.01, 0, 0])] }), 1)).toBeCloseTo(0.3);
  expect(reachOf(check({ dots: [dot(5, "fail", [0, -0.5, 0])] }), 1)).toBeCloseTo(0.55);
  expect(reachOf(check({ dots: [dot(900, "fail", [90, 0, 0])] }), 1)).toBeCloseTo(0.8);
  expect(reachOf(check({ tolerance: [0], dots: [dot(0, "fail", [2, 0, 0])] }), 1)).toBeCloseTo(2.2);
});

test("what is beyond the paper stands at its edge, in its direction", () => {
  expect(onPaper(0.5, -1, 2)).toEqual({ x: 0.5, y: -1, beyond: false });
  expect(onPaper(8, -4, 2)).toEqual({ x: 2, y: -1, beyond: true });
  expect(onPaper(0, 9, 3)).toEqual({ x: 0, y: 3, beyond: true });
  expect(onPaper(-9, -3, 3)).toEqual({ x: -3, y: -1, beyond: true });
});

test("a tolerance is written in two figures, and as it is where it is not moved", () => {
  expect(scaled(0.0537, 1)).toBe(0.0537);
  expect(scaled(0.05, 1.37)).toBe(0.069);
});
