// A check's result as rows of numbers: one an axis, or one for a distance.
import type { CheckResult } from "../api/types";

export type Row = {
  axis: string;
  target: number | null;
  submitted: number | null;
  difference: number;
  tolerance: number;
};

export function rowsOf(result: CheckResult): Row[] {
  const { difference, tolerance } = result;
  if (difference === null) return [];
  if (typeof difference === "number") {
    return [{ axis: "distance", target: null, submitted: null, difference, tolerance: tolerance as number }];
  }
  return difference.map((value, i) => ({
    axis: result.axes[i]!,
    target: result.target[i]!,
    submitted: result.submitted?.[i] ?? null,
    difference: value,
    tolerance: (tolerance as number[])[i]!,
  }));
}

/** Checks with this verdict, by id. */
export function passingIds(results: readonly CheckResult[]): ReadonlySet<string> {
  return new Set(results.filter((result) => result.verdict === "pass").map((result) => result.id));
}
