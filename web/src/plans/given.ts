// An object as it was made: by the step that added it, or in what is given. Pure.
import type { Card, Step } from "../api/types";

export type Spec = Card["base"]["objects"][number];
type Change = Partial<Pick<Spec, "solid" | "locked">>;

/** The object as it was made, as it was typed last; `undefined` for a copy or an assembly, which other objects make. */
export function madeAs(id: string, steps: readonly Step[], given: readonly Spec[]): Spec | undefined {
  const added = steps.flatMap((step) => (step.op === "add" ? [step.object] : []));
  return [...added, ...given].find((spec) => spec.id === id);
}

/** The step with its new object changed, where it is the one that added it; else the step itself. */
export function withSolid(step: Step, id: string, change: Change): Step {
  if (step.op !== "add" || step.object.id !== id) return step;
  return { ...step, object: { ...step.object, ...change } };
}
