// A check's result as rows of numbers: one an axis, or one for a distance.
import type { CheckResult } from "../api/types";
import { nth } from "./lists";

export type Row = {
  axis: string;
  target: number | null;
  submitted: number | null;
  difference: number;
  tolerance: number;
};

/** A check that has no numbers to show has no rows: its text says it all. */
export function rowsOf(result: CheckResult): Row[] {
  const { difference, tolerance } = result;
  if (difference === null || result.wanted !== "") return [];
  if (typeof difference === "number") {
    const axis = { position: "distance", rotation: "angle" }[result.kind as string] ?? "difference";
    const allowed = typeof tolerance === "number" ? tolerance : Math.max(...tolerance);
    return [{ axis, target: null, submitted: null, difference, tolerance: allowed }];
  }
  return difference.map((value, i) => ({
    axis: nth(result.axes, i),
    target: nth(result.target, i),
    submitted: result.submitted?.[i] ?? null,
    difference: value,
    tolerance: (tolerance as number[])[i]!,
  }));
}

/** Checks with this verdict, by id. */
export function passingIds(results: readonly CheckResult[]): ReadonlySet<string> {
  return new Set(results.filter((result) => result.verdict === "pass").map((result) => result.id));
}
