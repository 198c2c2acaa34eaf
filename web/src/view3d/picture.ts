// The border between the exercise's axes and three's: three draws right-handed, Y up, and so does the picture frame.
import { Matrix4 } from "three";
import type { Exercise } from "../api/types";
import type { Ray } from "./dragGeometry";
import { transposed, turned, type Vec3 } from "./matrices";

export function pictureMatrix(exercise: Exercise): Matrix4 {
  const m = exercise.picture_from_world;
  return new Matrix4().set(
    m[0]!,
    m[3]!,
    m[6]!,
    0,
    m[1]!,
    m[4]!,
    m[7]!,
    0,
    m[2]!,
    m[5]!,
    m[8]!,
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
