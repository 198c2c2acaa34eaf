// A scene as far as the screen works things out itself: frames of spaces, pivots and points in the world. Pure.
import type { Box, Exercise, Pivot, Point, Poses, SceneObject, Space } from "../api/types";
import { entry } from "../ui/lists";
import {
  type Axes,
  column,
  cross,
  dot,
  each,
  length,
  mapped,
  ownAxes,
  scaled,
  subtract,
  unit,
  type Vec3,
  WORLD_AXES,
} from "../view3d/matrices";
import { placeLocal } from "./features";

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

export type Frame = { axes: Axes; origin: Vec3 };

/** The directions of a space for one object, and its origin; `null` where only the core can tell. */
export function frameOf(space: Space, setting: Setting, id: string): Frame | null {
  const { poses, conventions } = setting;
  if (space === "world") return { axes: WORLD_AXES, origin: [0, 0, 0] };
  if (space === "local")
    return { axes: ownAxes(entry(poses, id).world_from_local), origin: entry(poses, id).pivot_world };
  if (space === "parent") {
    const parent = parentOf(id, setting);
    if (!parent) return { axes: WORLD_AXES, origin: [0, 0, 0] };
    const { world_from_local } = entry(poses, parent);
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
  if (pivot === "own") return entry(setting.poses, id).pivot_world;
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
  return place ? mapped(entry(setting.poses, point.object).world_from_local, place) : null;
}

export function isSkewed(columns: Axes): boolean {
  const [x, y, z] = each((k) => unit(columns[k]));
  return Math.max(Math.abs(dot(x, y)), Math.abs(dot(y, z)), Math.abs(dot(z, x))) > SKEW_TOL;
}

export function itemOf(id: string, setting: Setting): SceneObject | undefined {
  return setting.objects.find((item) => item.id === id);
}

export function parentOf(id: string, setting: Setting): string | null {
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
