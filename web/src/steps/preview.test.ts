import { describe, expect, it } from "vitest";
import cases from "../../../tests/fixtures/steps.json";
import type { Box, Poses, SceneObject, Step } from "../api/types";
import type { Vec3 } from "../view3d/matrices";
import { previewStep } from "./preview";
import type { Setting } from "./setting";

const NEAR = 1e-9; // the preview multiplies in another order than the core; of the largest number in the matrix

type Case = {
  objects: { id: string; parent: string | null }[];
  known: Record<string, Pick<SceneObject, "pivot" | "local_box">>;
  conventions: Setting["conventions"];
  marker: Vec3;
  boxes: Record<string, Box>;
  step: Step;
  before: Poses;
  after: Poses;
};

function settingOf(item: Case): Setting {
  const objects = item.objects.map((object) => ({ ...object, ...item.known[object.id] })) as SceneObject[];
  const { marker, conventions, boxes } = item;
  return { objects, poses: item.before, marker, conventions, boxes };
}

/** A step as the bench makes it: with the keys that the server would fill in. */
function filled(step: Step): Step {
  if (step.op === "move") return { ...step, space: step.space ?? "world" };
  if (step.op === "rotate") return { ...step, pivot: step.pivot ?? "own" } as Step;
  if (step.op === "scale") {
    const space = step.space ?? (step.by ? "world" : "local");
    return { ...step, space, pivot: step.pivot ?? "own" } as Step;
  }
  return step;
}

describe("the preview of a step", () => {
  it("comes within 1e-9 of the core's answer, for every operation, space and pivot", () => {
    for (const item of cases as unknown as Case[]) {
      const changed = previewStep(filled(item.step), settingOf(item));
      expect(changed, JSON.stringify(item.step)).not.toBeNull();
      for (const { id } of item.objects) {
        const shown = changed![id] ?? item.before[id]!;
        const answered = item.after[id]!;
        for (const key of ["world_from_local", "pivot_world"] as const) {
          const largest = Math.max(1, ...answered[key].map(Math.abs));
          answered[key].forEach((number, i) => {
            expect(Math.abs(shown[key][i]! - number) / largest, JSON.stringify(item.step)).toBeLessThan(NEAR);
          });
        }
      }
    }
  });

  it("is left to the core where a box is needed that the core alone knows", () => {
    const item = (cases as unknown as Case[])[0]!;
    const setting = { ...settingOf(item), boxes: {} };
    const step: Step = {
      op: "rotate",
      objects: ["crate"],
      space: "world",
      axis: "x",
      angle: 1,
      pivot: "selection",
    };
    expect(previewStep(step, setting)).toBeNull();
  });

  it("is left to the core for the steps that are not moves, turns or scalings", () => {
    const item = (cases as unknown as Case[])[0]!;
    expect(previewStep({ op: "remove", objects: ["crate"], children: "remove" }, settingOf(item))).toBeNull();
  });
});
