// Where a class came to in a check: what would pass under another tolerance, and where dots stand on paper.
import type { CheckInsight } from "../api/types";

type Dot = CheckInsight["dots"][number];

const GUARD = 1e-9;

/** Whether a dot passes where the tolerance is so many times what it is; as it is set, the core has decided. */
export function passesAt(dot: Dot, factor: number): boolean {
  if (factor === 1) return dot.verdict === "pass";
  return dot.off <= factor * (1 + GUARD) || (factor > 1 && dot.verdict === "pass");
}

/** The typical mistakes that would pass too. */
export function passingMistakes(check: CheckInsight, factor: number): CheckInsight["mistakes"] {
  const most = Math.max(...check.tolerance) * factor;
  return check.mistakes.filter((mistake) => mistake.off <= most * (1 + GUARD));
}

/** A tolerance so many times as large, to two figures. */
export function scaled(tolerance: number, factor: number): number {
  return factor === 1 ? tolerance : Number((tolerance * factor).toPrecision(2));
}

export type Shape = "around" | "dial" | "lines";

/** Around the target where there are three axes of lengths, on a dial where it is an angle, on lines else. */
export function shapeOf(check: CheckInsight): Shape {
  if (check.axes.length === 3 && check.kind === "position") return "around";
  return check.axes.length === 0 && (check.unit === "°" || check.unit === "rad") ? "dial" : "lines";
}

export type Elevation = { name: string; across: number; along: number };

/** Front, side and top by the numbers of their axes; the last one of each pair points up on paper. */
export function elevations(up: string): Elevation[] {
  const height = up === "y" ? 1 : 2;
  const depth = 3 - height;
  return [
    { name: "Front", across: 0, along: height },
    { name: "Side", across: depth, along: height },
    { name: "Top", across: 0, along: depth },
  ];
}

/** Where a miss stands on paper that reaches so far: one beyond it at the edge, in its direction. */
export function onPaper(x: number, y: number, reach: number): { x: number; y: number; beyond: boolean } {
  const far = Math.max(Math.abs(x), Math.abs(y)) / reach;
  return far > 1 ? { x: x / far, y: y / far, beyond: true } : { x, y, beyond: false };
}

const FAR = 8; // tolerances that are drawn at the most; beyond, a dot stands at the edge

/** How far the paper reaches: to the farthest dot, no nearer than three tolerances and no farther than FAR. */
export function reachOf(check: CheckInsight, factor: number): number {
  const tolerance = Math.max(...check.tolerance, 0);
  const farthest = Math.max(0, ...check.dots.flatMap((dot) => dot.miss.map(Math.abs)));
  if (tolerance === 0) return farthest * 1.1 || 1;
  return Math.min(
    Math.max(farthest * 1.1, 3 * tolerance, 1.5 * tolerance * factor),
    FAR * tolerance * Math.max(1, factor),
  );
}
