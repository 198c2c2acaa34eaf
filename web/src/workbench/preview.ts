// Where a step will take the objects, drawn until the core has answered. A test holds it to the core within 1e-9.
import type {
  Box,
  Exercise,
  Move,
  Pivot,
  Point,
  Pose,
  Poses,
  Rotate,
  Scale,
  SceneObject,
  Space,
  Step,
} from "../api/types";
import { placeLocal } from "../steps/features";
import {
  type Axes,
  type AxisIndex,
  about,
  along,
  column,
  cross,
  dot,
  each,
  inverse,
  length,
  type Matrix16,
  mapped,
  ownAxes,
  product,
  scaled,
  subtract,
  translation,
  turnColumns,
  unit,
  type Vec3,
  WORLD_AXES,
} from "../view3d/matrices";

type Conventions = Exercise["conventions"];

/** A scene as far as a preview needs it. boxes: exact boxes in the world, where the core has told them. */
export type Setting = {
  objects: readonly SceneObject[];
  poses: Poses;
  marker: Vec3;
  conventions: Conventions;
  boxes: Readonly<Record<string, Box | null>>;
};

const SKEW_TOL = 1e-6; // the product's own definition, as in the core
const RADIANS = { deg: Math.PI / 180, rad: 1, turn: 2 * Math.PI };

export function radiansPer(conventions: Conventions): number {
  return RADIANS[conventions.angle];
}

/** Poses of the objects that the step changes; `null` where only the core can tell. */
export function previewStep(step: Step, setting: Setting): Poses | null {
  if (step.op !== "move" && step.op !== "rotate" && step.op !== "scale") return null;
  const changed: Record<string, Pose> = {};
  const ids = topmost(step.objects, setting.objects);
  for (const id of ids) {
    if (!setting.poses[id]) return null;
    const motion = motionOf(step, setting, id, ids);
    if (motion === null || !motion.every(Number.isFinite)) return null;
    for (const moved of [id, ...descendants(id, setting.objects)])
      changed[moved] = posed(setting.poses[moved]!, motion);
  }
  return changed;
}

function posed(pose: Pose, motion: Matrix16): Pose {
  return {
    world_from_local: [...product(motion, pose.world_from_local)],
    pivot_world: [...mapped(motion, pose.pivot_world)],
  };
}

/** The motion of the world that a step is for one object: W′ = motion · W. */
function motionOf(
  step: Move | Rotate | Scale,
  setting: Setting,
  id: string,
  ids: readonly string[],
): Matrix16 | null {
  if (step.op === "move") return moveMotion(step, setting, id);
  if (step.op === "rotate" && step.to) return turnToMotion(step, setting, id);
  const centre = pivotWorld(step.pivot, setting, id, ids);
  if (centre === null) return null;
  return step.op === "rotate"
    ? turnMotion(step, setting, id, centre)
    : scaleMotion(step, setting, id, centre);
}

function moveMotion(step: Move, setting: Setting, id: string): Matrix16 | null {
  const parent = parentOf(id, setting);
  const point = step.point ? pointWorld(step.point, setting) : setting.poses[id]!.pivot_world;
  if (point === null) return null;
  const amounts = (here: Vec3): Vec3 =>
    each((i) => step.by?.[i] ?? (step.to?.[i] == null ? 0 : step.to[i]! - here[i]));
  if (step.space === "parent" && parent) {
    const world_from_parent = setting.poses[parent]!.world_from_local;
    const columns = each((k) => column(world_from_parent, k));
    return translation(along(columns, amounts(mapped(inverse(world_from_parent), point))));
  }
  const frame = frameOf(step.space, setting, id);
  if (frame === null) return null;
  const here = each((i) => dot(frame.axes[i], subtract(point, frame.origin)));
  return translation(along(frame.axes, amounts(here)));
}

function turnMotion(step: Rotate, setting: Setting, id: string, centre: Vec3): Matrix16 | null {
  const frame = frameOf(step.space, setting, id);
  if (frame === null) return null;
  const axis =
    typeof step.axis === "string" ? WORLD_AXES["xyz".indexOf(step.axis) as AxisIndex] : unit(step.axis!);
  return about(turnColumns(along(frame.axes, axis), step.angle! * radiansPer(setting.conventions)), centre);
}

function turnToMotion(step: Rotate, setting: Setting, id: string): Matrix16 | null {
  const { poses, conventions } = setting;
  const parent = step.space === "parent" ? parentOf(id, setting) : null;
  const { world_from_local, pivot_world } = poses[id]!;
  const target_from_world = parent ? inverse(poses[parent]!.world_from_local) : null;
  const target_from_local = target_from_world
    ? product(target_from_world, world_from_local)
    : world_from_local;
  const columns = each((k) => column(target_from_local, k));
  if (isSkewed(columns)) return null;
  const mirrored = dot(cross(columns[0], columns[1]), columns[2]) < 0;
  const turn = eulerColumns(conventions.euler, step.to!, radiansPer(conventions));
  const after = each((k) => scaled(turn[k], length(columns[k]) * (mirrored && k === 0 ? -1 : 1)));
  const linear_after = about(after, [0, 0, 0]);
  const linear_before = about(columns, [0, 0, 0]);
  const motion_target = product(linear_after, inverse(linear_before));
  const motion = target_from_world
    ? product(product(linearOf(inverse(target_from_world)), motion_target), linearOf(target_from_world))
    : motion_target;
  return about(
    each((k) => column(motion, k)),
    pivot_world,
  );
}

function scaleMotion(step: Scale, setting: Setting, id: string, centre: Vec3): Matrix16 | null {
  const factors = factorsOf(step, setting, id);
  if (factors === null || factors.some((factor) => factor === 0)) return null;
  const space = step.space ?? (step.by ? "world" : "local");
  const { world_from_local } = setting.poses[id]!;
  if (space === "local") {
    const own = each((k) => scaled(WORLD_AXES[k], factors[k]));
    const inside = about(own, mapped(inverse(world_from_local), centre));
    return product(product(world_from_local, inside), inverse(world_from_local));
  }
  const frame = frameOf(space, setting, id);
  if (frame === null) return null;
  const scaledAlong = (axis: Vec3) =>
    along(
      frame.axes,
      each((k) => dot(frame.axes[k], axis) * factors[k]),
    );
  return about(
    each((k) => scaledAlong(WORLD_AXES[k])),
    centre,
  );
}

function factorsOf(step: Scale, setting: Setting, id: string): Vec3 | null {
  if (step.by) return step.by;
  if (step.keep_volume) {
    const { axis, factor } = step.keep_volume;
    return each((k) => ("xyz"[k] === axis ? factor : 1 / Math.sqrt(factor)));
  }
  const sizes = ownSizes(setting, id);
  if (!sizes) return null;
  const factors = each((k) => (step.to?.[k] == null ? null : step.to[k]! / sizes[k]));
  if (factors.some((factor) => factor !== null && !Number.isFinite(factor))) return null;
  const one = factors.find((factor) => factor !== null) ?? 1;
  return each((k) => (step.uniform ? one : (factors[k] ?? 1)));
}

/** Sizes along an object's own axes, in scene lengths. */
export function ownSizes(setting: Setting, id: string): Vec3 | null {
  const box = itemOf(id, setting)?.local_box;
  if (!box) return null;
  const { world_from_local } = setting.poses[id]!;
  return each((k) => (box.most[k] - box.least[k]) * length(column(world_from_local, k)));
}

export type Frame = { axes: Axes; origin: Vec3 };

/** The directions of a space for one object, and its origin; `null` where only the core can tell. */
export function frameOf(space: Space, setting: Setting, id: string): Frame | null {
  const { poses, conventions } = setting;
  if (space === "world") return { axes: WORLD_AXES, origin: [0, 0, 0] };
  if (space === "local")
    return { axes: ownAxes(poses[id]!.world_from_local), origin: poses[id]!.pivot_world };
  if (space === "parent") {
    const parent = parentOf(id, setting);
    if (!parent) return { axes: WORLD_AXES, origin: [0, 0, 0] };
    const { world_from_local } = poses[parent]!;
    return { axes: ownAxes(world_from_local), origin: column(world_from_local, 3) };
  }
  if ("object" in space) {
    const other = poses[space.object];
    return other ? { axes: ownAxes(other.world_from_local), origin: other.pivot_world } : null;
  }
  if ("view" in space) {
    const axes = viewAxes(space.view.right, space.view.up, conventions.handedness);
    return axes && { axes, origin: [0, 0, 0] };
  }
  const [first, second] = space.line.map((point) => pointWorld(point, setting));
  return first && second ? lineFrame(first, second, conventions.up) : null;
}

function viewAxes(right: Vec3, up: Vec3, handedness: Conventions["handedness"]): Axes | null {
  const x = unit(right);
  const y = squareTo(up, x);
  return y && [x, y, scaled(cross(x, y), handedness === "right" ? 1 : -1)];
}

function lineFrame(first: Vec3, second: Vec3, up: Conventions["up"]): Frame | null {
  const between = subtract(second, first);
  if (length(between) < 1e-12) return null;
  const x = unit(between);
  const upright = squareTo(WORLD_AXES[up === "y" ? 1 : 2], x) ?? squareTo(WORLD_AXES[0], x)!;
  const axes: Axes = up === "y" ? [x, upright, cross(x, upright)] : [x, cross(upright, x), upright];
  return { axes, origin: first };
}

function squareTo(v: Vec3, normal: Vec3): Vec3 | null {
  const flat = subtract(unit(v), scaled(normal, dot(unit(v), normal)));
  return length(flat) < 1e-9 ? null : unit(flat);
}

/** Where a pivot is for one of the objects acted on; `null` where only the core can tell. */
export function pivotWorld(pivot: Pivot, setting: Setting, id: string, ids: readonly string[]): Vec3 | null {
  if (pivot === "own") return setting.poses[id]!.pivot_world;
  if (pivot === "origin") return [0, 0, 0];
  if (pivot === "marker") return setting.marker;
  if (pivot === "box") return pointWorld({ object: id, at: "centre" }, setting);
  if (pivot === "selection") return middleOf(ids.map((each) => setting.boxes[each] ?? null));
  return pointWorld(pivot, setting);
}

function middleOf(boxes: readonly (Box | null)[]): Vec3 | null {
  if (boxes.length === 0 || boxes.some((box) => box === null)) return null;
  const least = each((k) => Math.min(...boxes.map((box) => box!.least[k])));
  const most = each((k) => Math.max(...boxes.map((box) => box!.most[k])));
  return each((k) => (least[k] + most[k]) / 2);
}

/** Where a given point is in the world. */
export function pointWorld(point: Point, setting: Setting): Vec3 | null {
  if (!("object" in point)) return point;
  const item = itemOf(point.object, setting);
  const place = item && placeLocal(item, point.at);
  return place ? mapped(setting.poses[point.object]!.world_from_local, place) : null;
}

/** Columns of the rotation of three Euler angles: capitals about the turned axes, small letters about the fixed ones. */
function eulerColumns(order: string, angles: Vec3, radians: number): Axes {
  const turns = angles.map((angle, i) =>
    about(
      turnColumns(WORLD_AXES["xyz".indexOf(order[i]!.toLowerCase()) as AxisIndex], angle * radians),
      [0, 0, 0],
    ),
  );
  const [first, second, third] = order === order.toUpperCase() ? turns : [...turns].reverse();
  const all = product(product(first!, second!), third!);
  return each((k) => column(all, k));
}

function linearOf(m: Matrix16): Matrix16 {
  return m.map((value, i) => (i >= 12 && i < 15 ? 0 : value));
}

function isSkewed(columns: Axes): boolean {
  const [x, y, z] = each((k) => unit(columns[k]));
  return Math.max(Math.abs(dot(x, y)), Math.abs(dot(y, z)), Math.abs(dot(z, x))) > SKEW_TOL;
}

function itemOf(id: string, setting: Setting): SceneObject | undefined {
  return setting.objects.find((item) => item.id === id);
}

function parentOf(id: string, setting: Setting): string | null {
  return itemOf(id, setting)?.parent ?? null;
}

type Tree = readonly Pick<SceneObject, "id" | "parent">[];

/** Ids of all objects below this one. */
export function descendants(id: string, tree: Tree): string[] {
  const children = tree.filter((item) => item.parent === id).map((item) => item.id);
  return children.flatMap((child) => [child, ...descendants(child, tree)]);
}

/** The ids without those that are below another of them. */
export function topmost(ids: readonly string[], tree: Tree): string[] {
  const chosen = [...new Set(ids)];
  const below = new Set(chosen.flatMap((id) => descendants(id, tree)));
  return chosen.filter((id) => !below.has(id));
}
