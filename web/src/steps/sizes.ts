// The sizes of snap and nudge, in the exercise's own units.
import type { AxisOp } from "../state/sentence";
import type { Conventions } from "./axisKind";
import { axisKindOf } from "./axisKinds";
import { AXIS_OPS } from "./registry";

export function offeredSizes(op: AxisOp, conventions: Conventions): number[] {
  const { sizes, perUnit } = axisKindOf(op);
  return sizes.map((size) => size * perUnit(conventions));
}

/** What a bench begins with: 0.1 m, 15°, a factor of 0.1. */
export function firstSizes(conventions: Conventions): Record<AxisOp, number> {
  const first = (op: AxisOp) => axisKindOf(op).firstSize * axisKindOf(op).perUnit(conventions);
  return Object.fromEntries(AXIS_OPS.map((op) => [op, first(op)])) as Record<AxisOp, number>;
}
