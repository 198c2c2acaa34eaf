// What a drag means, as pure functions of the ray now and the line or plane at the start: always the total, never an
// increment. A view in which a drag cannot be told is a value, not a wild number.
import { add, cross, dot, length, scaled, subtract, type Vec3 } from "./matrices";

/** A point and a unit direction. */
export type Line = { origin: Vec3; direction: Vec3 };
export type Ray = Line;
/** A point and two unit directions square to each other. */
export type Plane = { origin: Vec3; u: Vec3; v: Vec3 };

export type LineDrag = { kind: "on-line"; at: number } | { kind: "view-along-axis" };
export type PlaneDrag = { kind: "on-plane"; at: readonly [number, number] } | { kind: "view-along-plane" };

/** Sine of the angle (about 4°) between sight line and axis below which a pixel would move the object wildly. */
export const STEEPEST = 0.07;

/** Cosine beyond which an axis points so straight at the viewer that its handle would only be in the way. */
const POINTING = 0.985;

/** The axes that can be taken hold of, seen along a direction (all of length 1). */
export function axesInSight(axes: readonly Vec3[], toward: Vec3 | undefined): boolean[] {
  return axes.map((axis) => !toward || Math.abs(dot(axis, toward)) < POINTING);
}

/** Whether the plane of two directions is seen from so far to its side that a bead in it can be dragged. */
export function planeInSight(u: Vec3, v: Vec3, toward: Vec3 | undefined): boolean {
  return !toward || Math.abs(dot(cross(u, v), toward)) > 2 * STEEPEST;
}

/** Where on a line the point nearest to the ray lies, in lengths from the line's origin. */
export function dragOnLine(ray: Ray, line: Line): LineDrag {
  const across = cross(ray.direction, line.direction);
  const sine = length(across);
  if (sine < STEEPEST) return { kind: "view-along-axis" };
  // Source: Ericson, "Real-Time Collision Detection" (2005), section 5.1.8, for two unit directions.
  const between = subtract(ray.origin, line.origin);
  const b = dot(ray.direction, line.direction);
  return {
    kind: "on-line",
    at: (dot(line.direction, between) - b * dot(ray.direction, between)) / sine ** 2,
  };
}

/** Where the ray meets a plane, along its two directions from its origin. */
export function dragOnPlane(ray: Ray, plane: Plane): PlaneDrag {
  const normal = cross(plane.u, plane.v);
  const sine = dot(ray.direction, normal);
  if (Math.abs(sine) < STEEPEST) return { kind: "view-along-plane" };
  const distance = dot(subtract(plane.origin, ray.origin), normal) / sine;
  if (distance < 0) return { kind: "view-along-plane" }; // the plane is behind the viewer there
  const met = subtract(add(ray.origin, scaled(ray.direction, distance)), plane.origin);
  return { kind: "on-plane", at: [dot(met, plane.u), dot(met, plane.v)] };
}

/** A circle to turn by: its centre, the axis it goes round (length 1), and a direction square to it where 0 is. */
export type Circle = { centre: Vec3; axis: Vec3; zero: Vec3 };
export type CircleDrag = { kind: "on-circle"; angleRad: number } | { kind: "edge-on" };

/** The angle about the circle's axis at which the ray meets its plane, by the hand rule of the coordinates. */
export function dragOnCircle(ray: Ray, circle: Circle): CircleDrag {
  const second = cross(circle.axis, circle.zero);
  const met = dragOnPlane(ray, { origin: circle.centre, u: circle.zero, v: second });
  if (met.kind !== "on-plane" || Math.hypot(...met.at) === 0) return { kind: "edge-on" };
  return { kind: "on-circle", angleRad: Math.atan2(met.at[1], met.at[0]) };
}

/** The angle nearest to the one before that differs from this by whole turns: so a drag can go round and round. */
export function unwound(angleRad: number, beforeRad: number): number {
  const turn = 2 * Math.PI;
  return angleRad - turn * Math.round((angleRad - beforeRad) / turn);
}

/** A direction of length 1 square to an axis of length 1. */
export function squareTo(axis: Vec3): Vec3 {
  const other: Vec3 = Math.abs(axis[0]) < 0.7 ? [1, 0, 0] : [0, 1, 0];
  const flat = cross(axis, other);
  return scaled(flat, 1 / length(flat));
}

/** Two directions of length 1, square to each other: the right and the up of the picture. */
type Sight = { right: Vec3; up: Vec3 };

const PLACES_ON_RING = 48;

/** The angle on the first ring at which it lies farthest, in the picture, from all others; they share one centre. */
export function clearestAngle(rings: readonly (Circle & { radius: number })[], sight: Sight): number {
  const [own, ...others] = rings.map((ring) => ringInPicture(ring, sight));
  const clear = own!.map(([x, y]) =>
    Math.min(...others.flat().map(([otherX, otherY]) => Math.hypot(x - otherX, y - otherY))),
  );
  return (2 * Math.PI * clear.indexOf(Math.max(...clear))) / PLACES_ON_RING;
}

function ringInPicture(ring: Circle & { radius: number }, sight: Sight): [number, number][] {
  const second = cross(ring.axis, ring.zero);
  return Array.from({ length: PLACES_ON_RING }, (_, i) => {
    const angle = (2 * Math.PI * i) / PLACES_ON_RING;
    const out = add(scaled(ring.zero, Math.cos(angle)), scaled(second, Math.sin(angle)));
    return [ring.radius * dot(out, sight.right), ring.radius * dot(out, sight.up)];
  });
}

/** How many times as large a solid gets when a bead at a distance from what is held goes this much further. */
export function stretch(further: number, from: number): number {
  return Math.max((from + further) / from, SMALLEST_STRETCH);
}

/** A drag does not flatten a solid, and does not turn it inside out: those are typed. */
const SMALLEST_STRETCH = 0.01;

/** The least of 1, 2 or 5 times a power of ten that is at least this. */
export function niceStep(atLeast: number): number {
  const power = 10 ** Math.floor(Math.log10(atLeast));
  const step = [1, 2, 5, 10].find((factor) => factor * power >= atLeast * (1 - 1e-9)) ?? 10;
  return step * power;
}

/** The nearest multiple of a step. Dividing by the inverse keeps 0.1-like steps clean: 3 / 10 and not 3 × 0.1. */
export function nearestMultiple(value: number, step: number): number {
  const inverse = Math.round(1 / step);
  const rounded =
    Math.abs(inverse * step - 1) < 1e-9
      ? Math.round(value * inverse) / inverse
      : Math.round(value / step) * step;
  return rounded === 0 ? 0 : rounded; // no −0
}
