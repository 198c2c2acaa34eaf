// What there is after a step: an answer says what changed, and names a mesh that was there instead of sending it again. Pure.
import type { SceneObject, StepView } from "../api/types";

type Change = Pick<StepView, "objects"> & { gone: readonly string[] };

export function objectsAfter(
  before: readonly SceneObject[],
  { objects, gone }: Change,
): readonly SceneObject[] {
  if (objects.length + gone.length === 0) return before;
  const byId = new Map(before.map((item) => [item.id, item]));
  const solids = new Map(byId);
  for (const id of gone) byId.delete(id);
  for (const { solid_of, ...item } of objects) {
    const same = solid_of === null ? undefined : solids.get(solid_of);
    byId.set(item.id, same ? { ...item, solid: same.solid, local_box: same.local_box } : item);
  }
  return [...byId.values()];
}
