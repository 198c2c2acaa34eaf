// The sizes of snap and nudge, in the exercise's own units.
import type { Exercise } from "../api/types";
import { radiansPer } from "./preview";
import type { Operation } from "./sentence";

type Conventions = Exercise["conventions"];

// Common practice, no source: the sizes that people nudge by, in metres, degrees and factors.
const SIZES: Record<Operation, readonly number[]> = {
  move: [1, 0.1, 0.01, 0.001],
  rotate: [90, 15, 5, 1],
  scale: [1, 0.1, 0.01, 0.001],
};
const PER_METRE: Partial<Record<Conventions["length"], number>> = { mm: 1000, cm: 100 };

export function offeredSizes(op: Operation, conventions: Conventions): number[] {
  return SIZES[op].map((size) => size * perUnit(op, conventions));
}

/** What a bench begins with: 0.1 m, 15°, a factor of 0.1. */
export function firstSizes(conventions: Conventions): Record<Operation, number> {
  return {
    move: 0.1 * perUnit("move", conventions),
    rotate: 15 * perUnit("rotate", conventions),
    scale: 0.1,
  };
}

function perUnit(op: Operation, conventions: Conventions): number {
  if (op === "rotate") return Math.PI / 180 / radiansPer(conventions);
  return op === "move" ? (PER_METRE[conventions.length] ?? 1) : 1;
}
