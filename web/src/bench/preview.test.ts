import { describe, expect, it } from "vitest";
import cases from "../../../tests/fixtures/moves.json";
import type { Poses, Step } from "../api/types";
import { ownAxes } from "../view3d/matrices";
import { previewStep } from "./preview";

const NEAR = 1e-9; // the preview adds in another order than the core; numbers stay below a hundred

type Case = { objects: { id: string; parent: string | null }[]; step: Step; before: Poses; after: Poses };

const isSkewed = (item: Case, id: string) => ownAxes(item.before[id]!.world_from_local) === null;

describe("the preview of a move", () => {
  it("comes within 1e-9 of the core's answer, wherever it previews", () => {
    let previewed = 0;
    for (const item of cases as unknown as Case[]) {
      const changed = previewStep(item.step, item.before, item.objects);
      if (changed === null) {
        // Only an object that is skewed, moved along its own axes, is left to the core.
        expect(item.step.space).toBe("local");
        expect(item.step.objects.some((id) => isSkewed(item, id))).toBe(true);
        continue;
      }
      previewed += 1;
      for (const { id } of item.objects) {
        const shown = changed[id] ?? item.before[id]!;
        const answered = item.after[id]!;
        for (const key of ["world_from_local", "pivot_world"] as const) {
          answered[key].forEach((number, i) => {
            expect(Math.abs(shown[key][i]! - number)).toBeLessThan(NEAR);
          });
        }
      }
    }
    expect(previewed).toBeGreaterThan(30);
  });

  it("is left to the core in spaces that the bench does not offer", () => {
    const item = (cases as unknown as Case[])[0]!;
    const step: Step = { op: "move", objects: ["crate"], space: { object: "crane" }, by: [1, 0, 0] };
    expect(previewStep(step, item.before, item.objects)).toBeNull();
  });
});
