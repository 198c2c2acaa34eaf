// The sides from which a scene is looked at, and flat drawings of it, as pure functions of numbers.

import { nth } from "../ui/lists";
import {
  AXIS_INDICES,
  AXIS_NAMES,
  cross,
  dot,
  type Matrix16,
  mapped,
  transposed,
  turned,
  unit,
  type Vec3,
} from "./matrices";

export type Side = "free" | "front" | "side" | "top";
export type Elevation = Exclude<Side, "free">;

/** Where right, up and toward the viewer point, in the picture frame (right, up, toward from the front). */
export type Look = { right: Vec3; up: Vec3; toward: Vec3 };

/** The free view at first: from the front, a little right and above. */
const FREE_TOWARD = unit([0.42, 0.55, 1]);
const FREE_RIGHT = unit(cross([0, 1, 0], FREE_TOWARD));

export const LOOKS: Record<Side, Look> = {
  free: { right: FREE_RIGHT, up: cross(FREE_TOWARD, FREE_RIGHT), toward: FREE_TOWARD },
  front: { right: [1, 0, 0], up: [0, 1, 0], toward: [0, 0, 1] },
  side: { right: [0, 0, -1], up: [0, 1, 0], toward: [1, 0, 0] },
  top: { right: [1, 0, 0], up: [0, 0, -1], toward: [0, 1, 0] },
};

export const SIDE_WORDS: Record<Side, string> = { free: "Free", front: "Front", side: "Side", top: "Top" };

export type Flat = readonly [number, number];

/** A point of the picture on paper: right and down, in scene lengths. */
export function onPaper(look: Look, point_picture: Vec3): Flat {
  return [dot(look.right, point_picture), -dot(look.up, point_picture)];
}

/** The map from an object's own coordinates to the picture. */
export function pictureFromLocal(
  picture_from_world: readonly number[],
  world_from_local: Matrix16,
): Matrix16 {
  const columns = [0, 1, 2, 3].map((k) => {
    const v: Vec3 = [
      nth(world_from_local, 4 * k),
      nth(world_from_local, 4 * k + 1),
      nth(world_from_local, 4 * k + 2),
    ];
    return [...turned(picture_from_world, v), k === 3 ? 1 : 0];
  });
  return columns.flat();
}

export type Drawing = { outline: Flat[]; lines: (readonly [Flat, Flat])[]; nearest: number };

/** A solid's outline (the hull of its points) and its lines on paper; points_local come in pairs, one line each. */
export function drawn(look: Look, picture_from_local: Matrix16, points_local: readonly Vec3[]): Drawing {
  const points_picture = points_local.map((point) => mapped(picture_from_local, point));
  const flat = points_picture.map((point) => onPaper(look, point));
  const lines = [];
  for (let i = 0; i + 1 < flat.length; i += 2) lines.push([nth(flat, i), nth(flat, i + 1)] as const);
  return { outline: hull(flat), lines, nearest: Math.max(...points_picture.map((p) => dot(look.toward, p))) };
}

/** Corners of the hull of points on paper. Source: Andrew's monotone chain (1979). */
export function hull(points: readonly Flat[]): Flat[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  if (sorted.length < 3) return sorted;
  const half = (ordered: readonly Flat[]) => {
    const chain: Flat[] = [];
    for (const point of ordered) {
      while (chain.length > 1 && turnsRight(chain.at(-2)!, chain.at(-1)!, point)) chain.pop();
      chain.push(point);
    }
    return chain.slice(0, -1);
  };
  return [...half(sorted), ...half([...sorted].reverse())];
}

function turnsRight(a: Flat, b: Flat, c: Flat): boolean {
  return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) <= 0;
}

/** Which of the exercise's axes a direction of the picture is, with its sign: "X", "−Z"; empty where it is none. */
export function axisAlong(picture_from_world: readonly number[], direction_picture: Vec3): string {
  const world = turned(transposed(picture_from_world), direction_picture);
  const axis = AXIS_INDICES.find((i) => Math.abs(world[i]) > 0.999);
  return axis === undefined ? "" : `${world[axis] < 0 ? "−" : ""}${AXIS_NAMES[axis]}`;
}
