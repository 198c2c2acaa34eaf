// What the result page shows of a scene: after so many steps, and how far off a check is in it. Pure.
import type { CheckResult, Exercise, Poses, Result, SceneObject, StepView } from "../api/types";
import { inverse, mapped, type Vec3 } from "../view3d/matrices";
import { objectsAfter } from "../view3d/objects";

export type Shown = { objects: readonly SceneObject[]; poses: Poses };

/** The scene after the first steps of a list, from the exercise's start. */
export function sceneAfter(exercise: Exercise, steps: readonly StepView[], count: number): Shown {
  const done = steps.slice(0, count);
  return {
    poses: Object.assign({}, exercise.start, ...done.map((step) => step.changed)) as Poses,
    objects: done.reduce(objectsAfter, exercise.objects as readonly SceneObject[]),
  };
}

/** The scene as it was submitted, which may have had no steps. */
export function handedIn(result: Result): Shown {
  const { objects } = sceneAfter(result.exercise, result.steps, result.steps.length);
  return { objects, poses: result.placed };
}

/** The submitted and the wanted position of the checked point, in world; `null` if the check has no such point. */
export function missOf(check: CheckResult, exercise: Exercise, poses: Poses): readonly [Vec3, Vec3] | null {
  const halo = exercise.halos.find((item) => item.check === check.id && item.object === check.object);
  const target = exercise.target[check.object] ?? exercise.start[check.object];
  const pose = poses[check.object];
  if (check.kind !== "position" || !halo || !target || !pose) return null;
  const local = mapped(inverse(target.world_from_local), halo.centre_world);
  return [mapped(pose.world_from_local, local), halo.centre_world];
}
