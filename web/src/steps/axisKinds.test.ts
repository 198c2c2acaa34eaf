import { describe, expect, it } from "vitest";
import type { Step } from "../api/types";
import type { AxisOp, StepOf } from "../state/sentence";
import { axisKindOf } from "./axisKinds";
import { AXIS_OPS } from "./registry";

const HEAD = { objects: ["a"], space: "world" } as const;
const STEPS = [
  { op: "move", ...HEAD, by: [1, 2, 3] },
  { op: "move", ...HEAD, to: [null, 4, null] },
  { op: "rotate", ...HEAD, axis: "y", angle: 5, pivot: { object: "a", at: "+x" } },
  { op: "rotate", ...HEAD, to: [1, 2, 3], pivot: "own" },
  { op: "scale", ...HEAD, by: [1, 2, 3], uniform: false, pivot: "own" },
  { op: "scale", ...HEAD, to: [null, null, 3], uniform: false, pivot: "own" },
  { op: "scale", ...HEAD, keep_volume: { axis: "x", factor: 2 }, uniform: false, pivot: "own" },
] as unknown as readonly StepOf<AxisOp>[];
const numbers = (step: StepOf<AxisOp>) => axisKindOf(step.op).numbers(step);

describe("the numbers of a step that are edited in its place", () => {
  it("are called as the step says them", () => {
    expect(STEPS.map((step) => numbers(step).map((number) => number.label))).toEqual([
      ["by X", "by Y", "by Z"],
      ["to Y"],
      ["angle"],
      ["to X", "to Y", "to Z"],
      ["by X", "by Y", "by Z"],
      ["to Z"],
      ["factor"],
    ]);
  });

  it.each(STEPS.flatMap((step) => numbers(step).map((_, i) => [step, i] as const)))(
    "%j: number %i is set, and all else stays",
    (step, i) => {
      const changed: Step = numbers(step)[i]!.with(9);
      const after = numbers(changed as StepOf<AxisOp>);
      expect(after.map((number) => number.value)).toEqual(
        numbers(step).map((number, j) => (i === j ? 9 : number.value)),
      );
      expect(changed).toMatchObject({ op: step.op, space: "world", entry: "typed" });
      expect(after[i]!.with(numbers(step)[i]!.value)).toEqual({ ...step, entry: "typed" });
    },
  );
});

it("a nudge there and back is none, for every kind", () => {
  for (const op of AXIS_OPS) {
    const { nudge } = axisKindOf(op);
    const [on, back] = [nudge(0.1, 1), nudge(0.1, -1)];
    expect(op === "scale" ? on * back : on + back + 1).toBeCloseTo(1, 12);
  }
});
