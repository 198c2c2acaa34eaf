// An object as it was made: by the step that added it. Pure.
import type { Solid, Step } from "../api/types";

type Change = { solid?: Solid; locked?: boolean };

/** The step with its new object changed, where it is the one that added it; else the step itself. */
export function withSolid(step: Step, id: string, change: Change): Step {
  if (step.op !== "add" || step.object.id !== id) return step;
  return { ...step, object: { ...step.object, ...change } };
}
