// Small vector and matrix functions on plain numbers. Matrices are 16 numbers column by column, as the server sends
// them. Names read target_from_source.
import { nth } from "../ui/lists";
export type Vec3 = readonly [number, number, number];
export type Matrix16 = readonly number[];
export type AxisIndex = 0 | 1 | 2;

/** One of something for each axis. */
export function each<T>(of: (axis: AxisIndex) => T): readonly [T, T, T] {
  return [of(0), of(1), of(2)];
}

export const AXIS_INDICES: readonly AxisIndex[] = [0, 1, 2];
export const AXIS_NAMES = ["X", "Y", "Z"] as const;
/** The planes of two axes. */
export const AXIS_PAIRS: readonly (readonly [AxisIndex, AxisIndex])[] = [
  [0, 1],
  [1, 2],
  [0, 2],
];

/** Largest dot product of unit columns that still counts as square: the product's own definition of skew. */
const SKEW_TOL = 1e-6;

export const add = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const subtract = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const scaled = (a: Vec3, s: number): Vec3 => [a[0] * s, a[1] * s, a[2] * s];
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const length = (a: Vec3): number => Math.hypot(a[0], a[1], a[2]);
export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/** Column k of a matrix: for k = 3 the translation. */
export function column(matrix: Matrix16, k: 0 | 1 | 2 | 3): Vec3 {
  return [nth(matrix, 4 * k), nth(matrix, 4 * k + 1), nth(matrix, 4 * k + 2)];
}

/** The matrix moved by a displacement in the frame that it leads to. */
export function movedBy(target_from_local: Matrix16, displacement_target: Vec3): Matrix16 {
  const moved = target_from_local.slice();
  for (const i of AXIS_INDICES) moved[12 + i] = nth(moved, 12 + i) + displacement_target[i];
  return moved;
}

/** A matrix of 9 numbers column by column, times a vector. */
export function turned(target_from_source: readonly number[], v: Vec3): Vec3 {
  const m = target_from_source;
  const row = (i: number) => nth(m, i) * v[0] + nth(m, i + 3) * v[1] + nth(m, i + 6) * v[2];
  return [row(0), row(1), row(2)];
}

/** The inverse of an orthogonal matrix of 9 numbers: rows and columns exchanged. */
export function transposed(m: readonly number[]): number[] {
  return [nth(m, 0), nth(m, 3), nth(m, 6), nth(m, 1), nth(m, 4), nth(m, 7), nth(m, 2), nth(m, 5), nth(m, 8)];
}

export type Axes = readonly [Vec3, Vec3, Vec3];

export const WORLD_AXES: Axes = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/**
 * An object's own unit directions in world: its columns at unit length, X turned round where the matrix mirrors. Where
 * it is skewed, the orthogonal factor of its polar decomposition, as the core reads it.
 */
export function ownAxes(world_from_local: Matrix16): Axes {
  const columns = each((k) => column(world_from_local, k));
  const units = each((k) => unit(columns[k]));
  const [x, y, z] = units;
  const skewed = Math.max(Math.abs(dot(x, y)), Math.abs(dot(y, z)), Math.abs(dot(z, x))) > SKEW_TOL;
  const [a, b, c] = skewed ? orthogonalFactor(columns) : units;
  return dot(cross(a, b), c) < 0 ? [scaled(a, -1), b, c] : [a, b, c];
}

const SETTLED = 1e-15;
const MOST_ROUNDS = 60;

/** Newton's iteration X ← (X + X⁻ᵀ) / 2. Source: Higham, "Computing the polar decomposition" (1986). */
function orthogonalFactor(columns: Axes): Axes {
  let now = columns;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const columnsNow = now;
    const [x, y, z] = columnsNow;
    const volume = dot(cross(x, y), z);
    const inverse = [cross(y, z), cross(z, x), cross(x, y)].map((row) => scaled(row, 1 / volume));
    const next = each((k) => scaled(add(columnsNow[k], nth(inverse, k)), 0.5));
    const change = Math.max(...each((k) => length(subtract(next[k], columnsNow[k]))));
    now = next;
    if (change < SETTLED) break;
  }
  return now;
}

/** World displacement of amounts along three directions. */
export function along(axes: Axes, amounts: Vec3): Vec3 {
  return add(add(scaled(axes[0], amounts[0]), scaled(axes[1], amounts[1])), scaled(axes[2], amounts[2]));
}

export const IDENTITY: Matrix16 = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** A point taken through an affine map. */
export function mapped(m: Matrix16, p: Vec3): Vec3 {
  const row = (i: number) => nth(m, i) * p[0] + nth(m, i + 4) * p[1] + nth(m, i + 8) * p[2] + nth(m, i + 12);
  return [row(0), row(1), row(2)];
}

/** Two affine maps, the right one first. */
export function product(a: Matrix16, b: Matrix16): Matrix16 {
  const linear = AXIS_INDICES.flatMap((k) => {
    const [x, y, z] = column(b, k);
    return [...along([column(a, 0), column(a, 1), column(a, 2)], [x, y, z]), 0];
  });
  return [...linear, ...mapped(a, column(b, 3)), 1];
}

/** The inverse of an affine map. */
export function inverse(m: Matrix16): Matrix16 {
  const [x, y, z] = [column(m, 0), column(m, 1), column(m, 2)];
  const volume = dot(cross(x, y), z);
  const rows = [cross(y, z), cross(z, x), cross(x, y)].map((row) => scaled(row, 1 / volume));
  const linear = AXIS_INDICES.flatMap((k) => [nth(rows, 0)[k], nth(rows, 1)[k], nth(rows, 2)[k], 0]);
  const place = column(m, 3);
  return [...linear, ...rows.map((row) => -dot(row, place)), 1];
}

/** The affine map that sends the world's axes to three columns and leaves a point where it is. */
export function about(columns: Axes, point: Vec3): Matrix16 {
  const place = subtract(point, along(columns, point));
  return [...columns[0], 0, ...columns[1], 0, ...columns[2], 0, ...place, 1];
}

export function translation(displacement: Vec3): Matrix16 {
  return about(WORLD_AXES, [0, 0, 0]).map((value, i) =>
    i >= 12 && i < 15 ? displacement[(i - 12) as AxisIndex] : value,
  );
}

/** Columns of the turn about an axis of length 1 by the hand rule of the conventions. Source: Rodrigues' formula. */
export function turnColumns(axis: Vec3, angleRad: number): Axes {
  const [c, s] = [Math.cos(angleRad), Math.sin(angleRad)];
  return each((k) => {
    const v = WORLD_AXES[k];
    const turnedPart = add(scaled(v, c), scaled(cross(axis, v), s));
    return add(turnedPart, scaled(axis, dot(axis, v) * (1 - c)));
  });
}

export function unit(v: Vec3): Vec3 {
  return scaled(v, 1 / length(v));
}
