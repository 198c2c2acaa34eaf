// Small vector and matrix functions on plain numbers. Matrices are 16 numbers column by column, as the server sends
// them. Names read target_from_source.
export type Vec3 = readonly [number, number, number];
export type Matrix16 = readonly number[];
export type AxisIndex = 0 | 1 | 2;

export const AXIS_INDICES: readonly AxisIndex[] = [0, 1, 2];
export const AXIS_NAMES = ["X", "Y", "Z"] as const;

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
  return [matrix[4 * k]!, matrix[4 * k + 1]!, matrix[4 * k + 2]!];
}

/** The matrix moved by a displacement in the frame that it leads to. */
export function movedBy(target_from_local: Matrix16, displacement_target: Vec3): Matrix16 {
  const moved = target_from_local.slice();
  for (const i of AXIS_INDICES) moved[12 + i] = moved[12 + i]! + displacement_target[i];
  return moved;
}

/** A matrix of 9 numbers column by column, times a vector. */
export function turned(target_from_source: readonly number[], v: Vec3): Vec3 {
  const m = target_from_source;
  const row = (i: number) => m[i]! * v[0] + m[i + 3]! * v[1] + m[i + 6]! * v[2];
  return [row(0), row(1), row(2)];
}

/** The inverse of an orthogonal matrix of 9 numbers: rows and columns exchanged. */
export function transposed(m: readonly number[]): number[] {
  return [m[0]!, m[3]!, m[6]!, m[1]!, m[4]!, m[7]!, m[2]!, m[5]!, m[8]!];
}

export type Axes = readonly [Vec3, Vec3, Vec3];

export const WORLD_AXES: Axes = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/**
 * An object's own unit directions in world: its columns at unit length, X turned round where the matrix mirrors.
 * `null` where it is skewed: the core alone reads those.
 */
export function ownAxes(world_from_local: Matrix16): Axes | null {
  const unit = AXIS_INDICES.map((k) => {
    const own = column(world_from_local, k);
    return scaled(own, 1 / length(own));
  }) as unknown as Axes;
  const [x, y, z] = unit;
  if (Math.max(Math.abs(dot(x, y)), Math.abs(dot(y, z)), Math.abs(dot(z, x))) > SKEW_TOL) return null;
  return dot(cross(x, y), z) < 0 ? [scaled(x, -1), y, z] : unit;
}

/** World displacement of amounts along three directions. */
export function along(axes: Axes, amounts: Vec3): Vec3 {
  return add(add(scaled(axes[0], amounts[0]), scaled(axes[1], amounts[1])), scaled(axes[2], amounts[2]));
}
