// Where the solids of an exercise may be: inside its plot, and above the ground unless one is meant to be below.
import type { Exercise, Poses, SceneObject } from "../api/types";
import { nth } from "../ui/lists";
import { mapped, type Vec3 } from "./matrices";

/** A box in world; a wall that nothing bounds is FAR away. */
export type Bounds = { least: Vec3; most: Vec3 };

export const FAR = 1e9;
/** As a share of a box's walls: what stands on the ground to the last digit but one is not sunk. */
const SLACK = 1e-6;

/** What bounds an object; `null` for what is fixed and for what has no solid. */
export function boundsOf(exercise: Exercise, item: SceneObject): Bounds | null {
  if (item.locked || !item.local_box) return null;
  const least = [...(exercise.plot?.least ?? [-FAR, -FAR, -FAR])] as [number, number, number];
  const most = exercise.plot?.most ?? ([FAR, FAR, FAR] as Vec3);
  const up = exercise.conventions.up === "y" ? 1 : 2;
  const meant = [exercise.start, exercise.target].flatMap((poses) => cornersOf([item], poses));
  if (meant.every((corner) => corner[up] >= -SLACK)) least[up] = Math.max(nth(least, up), 0);
  return { least, most };
}

export function reachesOut(corners: readonly Vec3[], { least, most }: Bounds): boolean {
  return corners.some((corner) =>
    corner.some((value, i) => {
      const slack = SLACK * Math.max(1, Math.abs(value));
      return value < nth(least, i) - slack || value > nth(most, i) + slack;
    }),
  );
}

/** Corners of the objects' own boxes, in world; of what has no solid, its pivot. */
export function cornersOf(objects: readonly SceneObject[], poses: Poses): Vec3[] {
  return objects.flatMap((item) => {
    const pose = poses[item.id];
    if (!pose) return [];
    if (!item.local_box) return [pose.pivot_world];
    const ends = [item.local_box.least, item.local_box.most];
    return [0, 1, 2, 3, 4, 5, 6, 7].map((i) =>
      mapped(pose.world_from_local, [
        nth(ends, i & 1)[0],
        nth(ends, (i >> 1) & 1)[1],
        nth(ends, (i >> 2) & 1)[2],
      ]),
    );
  });
}
