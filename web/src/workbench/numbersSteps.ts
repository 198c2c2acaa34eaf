// Steps that set an object's numbers: from fields that were typed, from tidying up, from numbers that were pasted. Pure.
import type { Reading, SceneObject, Step } from "../api/types";
import { movedTo } from "../steps/move";
import { turnedAbout, turnedTo } from "../steps/rotate";
import { scaledBy, sizedTo } from "../steps/scale";
import { numbersIn } from "../ui/amount";
import { nth } from "../ui/lists";
import { nearestMultiple } from "../view3d/dragGeometry";
import {
  AXIS_INDICES,
  type Axes,
  add,
  along,
  column,
  cross,
  dot,
  length,
  type Matrix16,
  mapped,
  ownAxes,
  unit,
  type Vec3,
  WORLD_AXES,
} from "../view3d/matrices";

export type NumbersSpace = "world" | "parent";
export type Quantity = "position" | "angles" | "scale" | "size";

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
  if (quantity === "position") return movedTo(id, space, only);
  if (quantity === "angles") {
    const to = reading[space].angles.map((angle, i) => (i === axis ? value : angle)) as Three;
    return turnedTo(id, space, to);
  }
  if (quantity === "size") return value > 0 ? sizedTo(id, only) : null;
  const factor = value / now;
  if (!Number.isFinite(factor) || factor === 0) return null;
  return scaledBy(id, [0, 1, 2].map((i) => (i === axis ? factor : 1)) as Three);
}

/** Steps that bring position, angles or scale to zero: to the origin, not turned, at its own size. */
export function zeroSteps(
  id: string,
  reading: Reading,
  space: NumbersSpace,
  quantity: "position" | "angles" | "scale",
): Step[] {
  if (quantity === "position") return [movedTo(id, space, [0, 0, 0])];
  if (quantity === "angles") return [turnedTo(id, space, [0, 0, 0])];
  return [scaledBy(id, reading[space].scale.map((factor) => 1 / factor) as Three)];
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
  if (!place.skewed && differs(angles, place.angles)) steps.push(turnedTo(id, space, angles));
  if (differs(to, place.position)) steps.push(movedTo(id, space, to));
  return steps;
}

function differs(a: readonly number[], b: readonly number[]): boolean {
  return a.some((value, i) => Math.abs(value - nth(b, i)) > 1e-12);
}

export type Pasted = { position?: Three; angles?: Three; scale?: Three } | { matrix: number[] };

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

/** Reads pasted text, or says why it is neither such JSON, nor three, six, nine or sixteen numbers. */
export function pasted(text: string): Pasted | { why: string } {
  try {
    const value: unknown = JSON.parse(text);
    if (typeof value === "object" && value !== null && !Array.isArray(value)) {
      const found = value as Record<string, unknown>;
      const parts = {
        position: three(found.position ?? found.translation),
        angles: three(found.angles ?? found.euler),
        scale: three(found.scale),
      };
      if (Object.values(parts).some(Boolean)) return parts as Pasted;
      return { why: "The JSON needs position, angles or scale with three numbers each." };
    }
  } catch {
    // not JSON: numbers, perhaps
  }
  const read = numbersIn(text);
  if ("why" in read) return read;
  const { numbers } = read;
  if (![3, 6, 9, 16].includes(numbers.length))
    return { why: `There are ${numbers.length} numbers. Paste 3, 6, 9 or 16.` };
  if (numbers.length === 16) return { matrix: numbers };
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

/** The steps that give an object pasted numbers; `null` where a matrix is none that steps can reach. */
export function pasteSteps(
  item: Pick<SceneObject, "id" | "pivot">,
  reading: Reading,
  space: NumbersSpace,
  numbers: Pasted,
  now: { world_from_local: Matrix16; radians: number },
): Step[] | null {
  if ("matrix" in numbers) return matrixSteps(item, reading, numbers.matrix, now);
  const { position, angles, scale } = numbers;
  const { id } = item;
  const steps = scaleSteps(
    id,
    scale?.map((factor, i) => factor / reading[space].scale[i]!),
  );
  if (angles && differs(angles, reading[space].angles)) steps.push(turnedTo(id, space, angles));
  if (position && differs(position, reading[space].position)) steps.push(movedTo(id, space, position));
  return steps;
}

function scaleSteps(id: string, by: number[] | undefined): Step[] {
  if (!by?.every((factor) => Number.isFinite(factor) && factor !== 0) || !differs(by, [1, 1, 1])) return [];
  return [scaledBy(id, by as Three)];
}

const SQUARE_TOL = 1e-6; // the product's own definition of skew
const LAST_ROW = [0, 0, 0, 1];

/** Scale, turn and move so that the object's map to the world becomes this matrix, column by column. */
function matrixSteps(
  { id, pivot }: Pick<SceneObject, "id" | "pivot">,
  reading: Reading,
  matrix: Matrix16,
  { world_from_local, radians }: { world_from_local: Matrix16; radians: number },
): Step[] | null {
  const columns = AXIS_INDICES.map((k) => column(matrix, k));
  const [x, y, z] = columns.map(unit) as [Vec3, Vec3, Vec3];
  const skew = Math.max(Math.abs(dot(x, y)), Math.abs(dot(y, z)), Math.abs(dot(z, x)));
  const rows = LAST_ROW.every((value, i) => matrix[4 * i + 3] === value);
  if (!rows || !(skew <= SQUARE_TOL) || reading.world.skewed) return null;
  const sign = dot(cross(x, y), z) < 0 ? -1 : 1;
  const scale = columns.map((own, k) => length(own) * (k === 0 ? sign : 1));
  const steps = scaleSteps(
    id,
    scale.map((factor, k) => factor / nth(reading.world.scale, k)),
  );
  const turn = turnBetween(ownAxes(world_from_local), ownAxes(matrix));
  if (turn) steps.push(turnedAbout(id, [...turn.axis], turn.angleRad / radians));
  steps.push(movedTo(id, "world", [...mapped(matrix, pivot)]));
  return steps;
}

/** The least turn that takes one set of square axes to another; `null` where it is none. */
function turnBetween(from: Axes, to: Axes): { axis: Vec3; angleRad: number } | null {
  // R = Σ to_k from_kᵀ; twice its axis times the sine is Σ from_k × to_k, its trace Σ from_k · to_k.
  const twice = AXIS_INDICES.map((k) => cross(from[k], to[k])).reduce((a, b) => add(a, b));
  const trace = AXIS_INDICES.reduce<number>((sum, k) => sum + dot(from[k], to[k]), 0);
  const sine = length(twice) / 2;
  if (sine > 1e-9) return { axis: unit(twice), angleRad: Math.atan2(sine, (trace - 1) / 2) };
  if (trace > 0) return null;
  // Half a turn: R + 1 has only columns along the axis; the longest tells it best.
  const sums = WORLD_AXES.map((v) => add(v, along(to, [dot(from[0], v), dot(from[1], v), dot(from[2], v)])));
  return { axis: unit(sums.reduce((a, b) => (length(b) > length(a) ? b : a))), angleRad: Math.PI };
}
