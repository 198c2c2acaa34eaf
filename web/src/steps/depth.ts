// How high something stands, and over what: a plumb line to the ground, its footprint there, the height in words. Pure.
import type { Box, Exercise, SceneObject } from "../api/types";
import { measured } from "../ui/numbers";
import { listed } from "../ui/words";
import { each, type Vec3 } from "../view3d/matrices";
import { descendants } from "./setting";

const RESTING = 0.001; // of its size: what stands less above something is told as resting on it

export type Plumb = {
  /** The middle of the lowest of it, and the point of the ground below. */
  from: Vec3;
  to: Vec3;
  /** The corners of its box on the ground, round about. */
  footprint: readonly Vec3[];
  words: string;
};

type Boxes = Readonly<Record<string, Box | null>>;
type Conventions = Exercise["conventions"];

/** The plumb line of an object; `null` where it has no box. boxes: in the world, of all that is in the scene. */
export function plumbOf(
  id: string,
  objects: readonly SceneObject[],
  boxes: Boxes,
  { up: upwards, length: unit }: Conventions,
): Plumb | null {
  const box = boxes[id];
  if (!box) return null;
  const up = upwards === "y" ? 1 : 2;
  const across = ([0, 1, 2] as const).filter((axis) => axis !== up) as [0 | 1 | 2, 0 | 1 | 2];
  const at = (first: number, second: number, height: number): Vec3 =>
    each((axis) => (axis === up ? height : axis === across[0] ? first : second));
  const [a, b] = across;
  const middle = each((axis) => (box.least[axis] + box.most[axis]) / 2);
  const supports = supportsOf(id, objects, boxes, up, across);
  const height = box.least[up];
  const words = supports.length > 0 ? `on ${listed(supports)}` : `${measured(height)} ${unit}`;
  return {
    from: at(middle[a], middle[b], height),
    to: at(middle[a], middle[b], 0),
    footprint: [
      at(box.least[a], box.least[b], 0),
      at(box.most[a], box.least[b], 0),
      at(box.most[a], box.most[b], 0),
      at(box.least[a], box.most[b], 0),
    ],
    words,
  };
}

/** The names of all that it rests on: whose box ends just where its own begins, below it. The ground is one of them. */
function supportsOf(
  id: string,
  objects: readonly SceneObject[],
  boxes: Boxes,
  up: 0 | 1 | 2,
  across: readonly (0 | 1 | 2)[],
): string[] {
  const box = boxes[id];
  if (!box) return [];
  const near = RESTING * Math.max(...each((axis) => box.most[axis] - box.least[axis]));
  const touches = (height: number) => Math.abs(box.least[up] - height) < near;
  const own = new Set([id, ...descendants(id, objects)]);
  const names = objects.flatMap((item) => {
    const other = boxes[item.id];
    if (!item.solid || own.has(item.id) || !other || !touches(other.most[up])) return [];
    const below = across.every(
      (axis) => other.least[axis] < box.most[axis] && box.least[axis] < other.most[axis],
    );
    return below ? [item.name] : [];
  });
  return names.length > 0 || !touches(0) ? names : ["the ground"];
}
