// The border between the exercise's axes and three's: three draws right-handed, Y up, and so does the picture frame.
import { Matrix4 } from "three";
import type { Exercise } from "../api/types";
import { nth } from "../ui/lists";
import type { Ray } from "./dragGeometry";
import { transposed, turned, type Vec3 } from "./matrices";

export function pictureMatrix(exercise: Exercise): Matrix4 {
  const m = exercise.picture_from_world;
  return new Matrix4().set(
    nth(m, 0),
    nth(m, 3),
    nth(m, 6),
    0,
    nth(m, 1),
    nth(m, 4),
    nth(m, 7),
    0,
    nth(m, 2),
    nth(m, 5),
    nth(m, 8),
    0,
    0,
    0,
    0,
    1,
  );
}

type ThreeVector = { x: number; y: number; z: number };
const numbers = (v: ThreeVector): Vec3 => [v.x, v.y, v.z];

/** A sight line of the picture in the exercise's axes. */
export function worldRay(
  exercise: Exercise,
  ray_picture: { origin: ThreeVector; direction: ThreeVector },
): Ray {
  const world_from_picture = transposed(exercise.picture_from_world);
  return {
    origin: turned(world_from_picture, numbers(ray_picture.origin)),
    direction: turned(world_from_picture, numbers(ray_picture.direction)),
  };
}
