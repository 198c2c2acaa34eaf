// Where a step will take the objects, drawn until the core has answered. A test holds it to the core within 1e-9.
import type { Pose, Poses, SceneObject, Step } from "../api/types";
import {
  AXIS_INDICES,
  type Axes,
  along,
  movedBy,
  ownAxes,
  subtract,
  type Vec3,
  WORLD_AXES,
} from "../view3d/matrices";

export type Tree = readonly Pick<SceneObject, "id" | "parent">[];

/** Poses of the objects that the step changes; `null` where only the core can tell. */
export function previewStep(step: Step, poses: Poses, tree: Tree): Poses | null {
  const changed: Record<string, Pose> = {};
  for (const id of topmost(step.objects, tree)) {
    const displacement_world = displacement(step, poses, id);
    if (displacement_world === null) return null;
    for (const moved of [id, ...descendants(id, tree)])
      changed[moved] = movedPose(poses[moved]!, displacement_world);
  }
  return changed;
}

/** The directions of a space for one object; `null` where only the core can tell. */
export function axesOf(space: Step["space"], poses: Poses, id: string): Axes | null {
  if (space === "world") return WORLD_AXES;
  if (space === "local") return ownAxes(poses[id]!.world_from_local);
  return null;
}

export function movedPose(pose: Pose, displacement_world: Vec3): Pose {
  const pivot = pose.pivot_world;
  return {
    world_from_local: [...movedBy(pose.world_from_local, displacement_world)],
    pivot_world: AXIS_INDICES.map((i) => pivot[i] + displacement_world[i]) as Pose["pivot_world"],
  };
}

/** Ids of all objects below this one. */
export function descendants(id: string, tree: Tree): string[] {
  const children = tree.filter((item) => item.parent === id).map((item) => item.id);
  return children.flatMap((child) => [child, ...descendants(child, tree)]);
}

function displacement(step: Step, poses: Poses, id: string): Vec3 | null {
  const axes = axesOf(step.space, poses, id);
  if (axes === null || step.point) return null;
  if (step.by) return along(axes, step.by);
  const to = step.to ?? [null, null, null];
  const pivot_world = poses[id]!.pivot_world;
  const here: Vec3 = step.space === "world" ? pivot_world : subtract(pivot_world, pivot_world);
  return along(axes, AXIS_INDICES.map((i) => (to[i] === null ? 0 : to[i]! - here[i])) as unknown as Vec3);
}

function topmost(ids: readonly string[], tree: Tree): string[] {
  const chosen = [...new Set(ids)];
  const below = new Set(chosen.flatMap((id) => descendants(id, tree)));
  return chosen.filter((id) => !below.has(id));
}
