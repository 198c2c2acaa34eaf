// Where a new solid stands: on the marker's height, at the marker or, where something is there, close beside it.
import type { Box, Exercise, Solid } from "../api/types";
import { nth } from "../ui/lists";
import { each, type Vec3 } from "../view3d/matrices";

/** What is there already. boxes: in the world, of what has one. */
export type Ground = { marker: Vec3; boxes: Readonly<Record<string, Box | null>> };

const SLACK = 1e-9; // of a length: what touches is free

/** The middle of a solid that stands free. sizes: its box, along x, y and z; gap: left between it and what is beside it. */
export function standingFree(sizes: Vec3, gap: number, up: 1 | 2, { marker, boxes }: Ground): Vec3 {
  const first = each((k) => marker[k] + (k === up ? sizes[k] / 2 : 0));
  const taken = Object.values(boxes).filter((box) => box !== null);
  const over = up === 1 ? 2 : 1;
  const ways = ([0, over] as const).flatMap((axis) =>
    ([1, -1] as const).map((way) => slid(first, sizes, gap, axis, way, taken)),
  );
  return ways.reduce((best, place) => (away(place, first) < away(best, first) ? place : best));
}

/** Slide one way along an axis, from one box that is in the way to the next. */
function slid(
  first: Vec3,
  sizes: Vec3,
  gap: number,
  axis: 0 | 1 | 2,
  way: 1 | -1,
  taken: readonly Box[],
): Vec3 {
  let place = first;
  for (let box = inTheWay(place, sizes, taken); box; box = inTheWay(place, sizes, taken)) {
    const end = way === 1 ? box.most[axis] : box.least[axis];
    const beside = end + way * (gap + sizes[axis] / 2);
    place = each((k) => (k === axis ? beside : place[k]));
  }
  return place;
}

function inTheWay(place: Vec3, sizes: Vec3, taken: readonly Box[]): Box | undefined {
  return taken.find(({ least, most }) =>
    [0, 1, 2].every((k) => {
      const slack = SLACK * Math.max(1, Math.abs(nth(place, k)));
      const half = nth(sizes, k) / 2 - slack;
      return nth(place, k) - half < nth(most, k) && nth(place, k) + half > nth(least, k);
    }),
  );
}

function away(place: Vec3, from: Vec3): number {
  return Math.max(...each((k) => Math.abs(place[k] - from[k])));
}

/** The box of a solid of the rack in its own axes, which are those of the world until it is turned. */
export function boxSizes(
  solid: Exclude<Solid, { kind: "mesh" }>,
  conventions: Exercise["conventions"],
): Vec3 {
  const up = conventions.up === "y" ? 1 : 2;
  const upright = (across: number, height: number) => each((k) => (k === up ? height : across));
  switch (solid.kind) {
    case "sphere":
      return upright(solid.diameter, solid.diameter);
    case "cylinder":
    case "cone":
    case "tube":
      return upright(solid.diameter, solid.height);
    case "ring":
      return upright(solid.diameter, solid.thickness);
    case "plate": {
      const [first, second] = solid.size;
      return up === 1 ? [first, 0, second] : [first, second, 0];
    }
    default:
      return solid.size as Vec3;
  }
}
