import { describe, expect, it } from "vitest";
import type { Reading, SceneObject } from "../api/types";
import { previewStep } from "../steps/preview";
import type { Setting } from "../steps/setting";
import { IDENTITY } from "../view3d/matrices";
import { copied, type Pasted, pasted, pasteSteps, stepFor, tidySteps, zeroSteps } from "./numbersSteps";

const place = { position: [1, 2, 3], angles: [0, -44.7, 0], scale: [1, 2, 1], skewed: false };
const reading = { world: place, parent: place, size: [1, 4, 1], world_box: null } as unknown as Reading;

const ITEM = { id: "a", pivot: [0, 1, 0] as [number, number, number] };
const NOW = { world_from_local: IDENTITY, radians: Math.PI / 180 };

describe("numbers that were typed", () => {
  it("are steps To in the space that is shown", () => {
    expect(stepFor("a", reading, "world", "position", 1, 5)).toMatchObject({
      op: "move",
      space: "world",
      to: [null, 5, null],
    });
    expect(stepFor("a", reading, "parent", "angles", 1, -45)).toMatchObject({
      op: "rotate",
      space: "parent",
      to: [0, -45, 0],
    });
    expect(stepFor("a", reading, "world", "size", 1, 8)).toMatchObject({ op: "scale", to: [null, 8, null] });
    expect(stepFor("a", reading, "world", "scale", 1, 3)).toMatchObject({
      op: "scale",
      by: [1, 1.5, 1],
      space: "local",
    });
  });

  it("are no step where they are so already, or cannot be", () => {
    expect(stepFor("a", reading, "world", "position", 0, 1)).toBeNull();
    expect(stepFor("a", reading, "world", "size", 0, -1)).toBeNull();
    expect(stepFor("a", reading, "world", "scale", 0, 0)).toBeNull();
  });
});

describe("zeroing and tidying up", () => {
  it("−44.7 is brought to the clean −45", () => {
    // Common practice, no source: −45 is a clean value, −44.7 is not.
    expect(tidySteps("a", reading, "world", { move: 0.1, rotate: 15 })).toMatchObject([
      { op: "rotate", to: [0, -45, 0] },
    ]);
  });

  it("zero is the origin, no turn, the own size", () => {
    expect(zeroSteps("a", reading, "parent", "position")).toMatchObject([{ to: [0, 0, 0], space: "parent" }]);
    expect(zeroSteps("a", reading, "world", "angles")).toMatchObject([{ op: "rotate", to: [0, 0, 0] }]);
    expect(zeroSteps("a", reading, "world", "scale")).toMatchObject([{ by: [1, 0.5, 1] }]);
  });
});

function taken(text: string): Pasted {
  const found = pasted(text);
  if ("why" in found) throw new Error(found.why);
  return found;
}

describe("copied and pasted numbers", () => {
  it.each(["json", "csv"] as const)("%s comes back as it was copied", (format) => {
    const text = copied(reading, "world", format, []);
    expect(pasted(text)).toMatchObject({ position: [1, 2, 3], angles: [0, -44.7, 0], scale: [1, 2, 1] });
    expect(pasteSteps(ITEM, reading, "world", taken(text), NOW)).toEqual([]); // it is there already
  });

  it("is three steps at most", () => {
    const steps = pasteSteps(ITEM, reading, "world", taken("0 0 0, 0 90 0, 1 1 1"), NOW);
    expect(steps!.map((step) => step.op)).toEqual(["scale", "rotate", "move"]);
  });

  it.each([
    ["turned, scaled and moved", [0, 0, -2, 0, 0, 3, 0, 0, 1, 0, 0, 0, 5, 6, 7, 1]],
    ["half a turn", [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, -1, 0, 0, 0, 0, 1]],
    ["mirrored", [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 1, 2, 3, 1]],
    ["where it is", [...IDENTITY]],
  ])("sixteen numbers are reached by steps: %s", (_, matrix) => {
    const one = { position: [0, 0, 0], angles: [0, 0, 0], scale: [1, 1, 1], skewed: false };
    const start = { world: one, parent: one, size: null, world_box: null } as unknown as Reading;
    const steps = pasteSteps(ITEM, start, "world", taken(matrix.join(" ")), {
      ...NOW,
      world_from_local: IDENTITY,
    });
    let setting: Setting = {
      objects: [{ ...ITEM, parent: null, local_box: null } as unknown as SceneObject],
      poses: { a: { world_from_local: [...IDENTITY], pivot_world: [0, 1, 0] } },
      marker: [0, 0, 0],
      conventions: { up: "y", handedness: "right", length: "m", angle: "deg", euler: "XYZ" },
      boxes: {},
    };
    for (const step of steps!)
      setting = { ...setting, poses: { ...setting.poses, ...previewStep(step, setting)! } };
    setting.poses.a!.world_from_local.forEach((value, i) => {
      expect(value).toBeCloseTo(matrix[i]!, 9);
    });
  });

  it("a skewed matrix is none that steps can reach", () => {
    const skewed = "1 0 0 0 0.5 1 0 0 0 0 1 0 0 0 0 1";
    expect(pasteSteps(ITEM, reading, "world", taken(skewed), NOW)).toBeNull();
  });

  it.each([
    ["", "There are 0 numbers"],
    ["1 2", "There are 2 numbers"],
    ["{}", "needs position"],
    ["1,2,x", "Number 3: “x” is not a number."],
    ['{"position": [1,2]}', "needs position"],
    ["1\t2 m\t3", "Number 2"],
  ])("%j is refused with the place", (text, why) => {
    expect(pasted(text)).toMatchObject({ why: expect.stringContaining(why) });
  });

  it("decimal commas in a row of a table are three numbers, not six", () => {
    expect(pasted("1,5\t2,5\t3,5")).toMatchObject({ position: [1.5, 2.5, 3.5], angles: undefined });
  });
});
