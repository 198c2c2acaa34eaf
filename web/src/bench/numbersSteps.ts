// Steps that set an object's numbers: from fields that were typed, from tidying up, from numbers that were pasted. Pure.
import type { Reading, Step } from "../api/types";
import { nearestMultiple } from "../view3d/dragGeometry";

export type NumbersSpace = "world" | "parent";
export type Quantity = "position" | "angles" | "scale" | "size";

const HEAD = (id: string) => ({ objects: [id], entry: "typed" as const });
type Three = [number, number, number];
type Some = [number | null, number | null, number | null];

/** The step that sets one number of an object; `null` where it is that already, or cannot be. */
export function stepFor(
  id: string,
  reading: Reading,
  space: NumbersSpace,
  quantity: Quantity,
  axis: number,
  value: number,
): Step | null {
  const now = quantity === "size" ? reading.size?.[axis] : reading[space][quantity][axis];
  if (now === undefined || now === value) return null;
  const only = [0, 1, 2].map((i) => (i === axis ? value : null)) as Some;
  if (quantity === "position") return { op: "move", ...HEAD(id), space, to: only };
  if (quantity === "angles") {
    const to = reading[space].angles.map((angle, i) => (i === axis ? value : angle)) as Three;
    return { op: "rotate", ...HEAD(id), space, to, pivot: "own" };
  }
  if (quantity === "size") {
    return value > 0 ? { op: "scale", ...HEAD(id), to: only, uniform: false, pivot: "own" } : null;
  }
  const factor = value / now;
  if (!Number.isFinite(factor) || factor === 0) return null;
  return {
    op: "scale",
    ...HEAD(id),
    space: "local",
    by: [0, 1, 2].map((i) => (i === axis ? factor : 1)) as Three,
    uniform: false,
    pivot: "own",
  };
}

/** Steps that bring position, angles or scale to zero: to the origin, not turned, at its own size. */
export function zeroSteps(
  id: string,
  reading: Reading,
  space: NumbersSpace,
  quantity: "position" | "angles" | "scale",
): Step[] {
  if (quantity === "position") return [{ op: "move", ...HEAD(id), space, to: [0, 0, 0] }];
  if (quantity === "angles") return [{ op: "rotate", ...HEAD(id), space, to: [0, 0, 0], pivot: "own" }];
  const by = reading[space].scale.map((factor) => 1 / factor) as Three;
  return [{ op: "scale", ...HEAD(id), space: "local", by, uniform: false, pivot: "own" }];
}

/** Steps that bring ragged numbers to the nearest multiple of the step sizes. */
export function tidySteps(
  id: string,
  reading: Reading,
  space: NumbersSpace,
  sizes: { move: number; rotate: number },
): Step[] {
  const place = reading[space];
  const to = place.position.map((value) => nearestMultiple(value, sizes.move)) as Three;
  const angles = place.angles.map((value) => nearestMultiple(value, sizes.rotate)) as Three;
  const steps: Step[] = [];
  if (!place.skewed && differs(angles, place.angles))
    steps.push({ op: "rotate", ...HEAD(id), space, to: angles, pivot: "own" });
  if (differs(to, place.position)) steps.push({ op: "move", ...HEAD(id), space, to });
  return steps;
}

function differs(a: readonly number[], b: readonly number[]): boolean {
  return a.some((value, i) => Math.abs(value - b[i]!) > 1e-12);
}

export type Pasted = { position?: Three; angles?: Three; scale?: Three };

/** Numbers as they are copied: JSON with position, angles and scale; or the nine as one line of CSV. */
export function copied(
  reading: Reading,
  space: NumbersSpace,
  format: "json" | "csv" | "matrix",
  world_from_local: readonly number[],
): string {
  const { position, angles, scale } = reading[space];
  if (format === "json") return JSON.stringify({ space, position, angles, scale });
  if (format === "csv") return [...position, ...angles, ...scale].join(",");
  return world_from_local.join(" ");
}

/** Reads pasted text; `null` where it is neither such JSON, nor three, six or nine numbers. */
export function pasted(text: string): Pasted | null {
  try {
    const value: unknown = JSON.parse(text);
    if (typeof value === "object" && value !== null && !Array.isArray(value)) {
      const found = value as Record<string, unknown>;
      const parts = {
        position: three(found.position ?? found.translation),
        angles: three(found.angles ?? found.euler),
        scale: three(found.scale),
      };
      return Object.values(parts).some(Boolean) ? (parts as Pasted) : null;
    }
  } catch {
    // not JSON: numbers, perhaps
  }
  const numbers = text
    .replaceAll("−", "-")
    .split(/[\s,;[\]()]+/)
    .filter(Boolean)
    .map(Number);
  if (![3, 6, 9].includes(numbers.length) || numbers.some((n) => !Number.isFinite(n))) return null;
  const part = (from: number) => three(numbers.slice(from, from + 3));
  return { position: part(0), angles: part(3), scale: part(6) } as Pasted;
}

function three(value: unknown): Three | undefined {
  const good =
    Array.isArray(value) &&
    value.length === 3 &&
    value.every((n) => typeof n === "number" && Number.isFinite(n));
  return good ? (value as Three) : undefined;
}

/** The steps that give an object pasted numbers. */
export function pasteSteps(
  id: string,
  reading: Reading,
  space: NumbersSpace,
  { position, angles, scale }: Pasted,
): Step[] {
  const steps: Step[] = [];
  const by = scale?.map((factor, i) => factor / reading[space].scale[i]!) as Three | undefined;
  if (by?.every((factor) => Number.isFinite(factor) && factor !== 0) && differs(by, [1, 1, 1])) {
    steps.push({ op: "scale", ...HEAD(id), space: "local", by, uniform: false, pivot: "own" });
  }
  if (angles && differs(angles, reading[space].angles))
    steps.push({ op: "rotate", ...HEAD(id), space, to: angles, pivot: "own" });
  if (position && differs(position, reading[space].position))
    steps.push({ op: "move", ...HEAD(id), space, to: position });
  return steps;
}
