// Where a step will take the objects, drawn until the core has answered. A test holds it to the core within 1e-9.
import type { Pose, Poses, Step } from "../api/types";
import { entry } from "../ui/lists";
import { type Matrix16, mapped, product } from "../view3d/matrices";
import { axisKindOf } from "./axisKinds";
import { isAxisStep } from "./registry";
import { descendants, type Setting, topmost } from "./setting";

/** Poses of the objects that the step changes; `null` where only the core can tell. */
export function previewStep(step: Step, setting: Setting): Poses | null {
  if (!isAxisStep(step)) return null;
  const { motion: motionOf } = axisKindOf(step.op);
  const changed: Record<string, Pose> = {};
  const ids = topmost(step.objects, setting.objects);
  for (const id of ids) {
    if (!setting.poses[id]) return null;
    const motion = motionOf(step, setting, id, ids);
    if (motion === null || !motion.every(Number.isFinite)) return null;
    for (const moved of [id, ...descendants(id, setting.objects)])
      changed[moved] = posed(entry(setting.poses, moved), motion);
  }
  return changed;
}

function posed(pose: Pose, motion: Matrix16): Pose {
  return {
    world_from_local: [...product(motion, pose.world_from_local)],
    pivot_world: [...mapped(motion, pose.pivot_world)],
  };
}
