// Points of a surface that a pointer means when it is near them: middles, corners and edges of the face it is on. Pure.
import type { Solid } from "../api/types";
import { nth } from "../ui/lists";
import { add, dot, length, scaled, subtract, type Vec3 } from "../view3d/matrices";

/** What a ray met, in the object's own coordinates; normal: of length 1. */
export type Met = { point: Vec3; normal: Vec3 };

const IN_PLANE = 1e-6; // of the outline's extent
const POINT_PIXELS = 11;
const EDGE_PIXELS = 8;
const FLAT: readonly Solid["kind"][] = ["cuboid", "wedge", "pyramid", "plate", "mesh"];
const CAPPED: readonly Solid["kind"][] = ["cylinder", "cone"];

/**
 * The point that is meant: the middle of the face, of an edge or a corner if one is near, else a near edge's point, else
 * what was met. outline: ends of its lines, two and two; away: how far a point is from the pointer, in pixels.
 */
export function meant(
  met: Met,
  kind: Solid["kind"],
  outline: readonly Vec3[],
  away: (p: Vec3) => number,
): Vec3 {
  const onFace = inPlaneOf(met, outline);
  const lines = outline.flatMap((end, i): [Vec3, Vec3][] =>
    i % 2 === 0 && onFace(end) && onFace(nth(outline, i + 1)) ? [[end, nth(outline, i + 1)]] : [],
  );
  if (lines.length === 0) return met.point;
  const ends = distinct(lines.flat());
  const middle = scaled(ends.reduce(add), 1 / ends.length);
  const flat = FLAT.includes(kind);
  const points = flat ? [middle, ...lines.map(([a, b]) => scaled(add(a, b), 0.5)), ...ends] : [middle];
  if (!flat && !CAPPED.includes(kind)) return met.point;
  const near = nearest(points, away, POINT_PIXELS);
  if (near || !flat) return near ?? met.point;
  return (
    nearest(
      lines.map((line) => onLine(line, met.point)),
      away,
      EDGE_PIXELS,
    ) ?? met.point
  );
}

function inPlaneOf({ point, normal }: Met, outline: readonly Vec3[]): (p: Vec3) => boolean {
  const extent = Math.max(...outline.map((end) => length(subtract(end, point))), 0);
  return (p) => Math.abs(dot(normal, subtract(p, point))) <= IN_PLANE * extent;
}

function distinct(points: readonly Vec3[]): Vec3[] {
  return [...new Map(points.map((p) => [p.map((x) => x.toFixed(9)).join(), p])).values()];
}

function onLine([a, b]: [Vec3, Vec3], p: Vec3): Vec3 {
  const way = subtract(b, a);
  const t = dot(subtract(p, a), way) / dot(way, way);
  return add(a, scaled(way, Math.min(1, Math.max(0, t))));
}

function nearest(points: readonly Vec3[], away: (p: Vec3) => number, within: number): Vec3 | null {
  const [best] = points.map((p) => ({ p, pixels: away(p) })).sort((a, b) => a.pixels - b.pixels);
  return best && best.pixels <= within ? best.p : null;
}
