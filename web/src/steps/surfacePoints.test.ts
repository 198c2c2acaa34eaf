import { describe, expect, it } from "vitest";
import { length, subtract, type Vec3 } from "../view3d/matrices";
import { meant } from "./surfacePoints";

// The top of a box of 2 by 1 by 2 as its outline has it, and one line below that is not on it.
const CORNERS: Vec3[] = [[1, 1, 1], [1, 1, -1], [-1, 1, -1], [-1, 1, 1]]; // biome-ignore format: a ring
const TOP = CORNERS.flatMap((corner, i) => [corner, CORNERS[(i + 1) % 4]!]);
const OUTLINE: Vec3[] = [...TOP, [1, 0, 1], [1, 1, 1]];
const PIXELS = 100; // a scene length seen from straight above
const met = (point: Vec3, kind: "cuboid" | "cylinder" | "tube" | "sphere" = "cuboid") =>
  meant({ point, normal: [0, 1, 0] }, kind, OUTLINE, (p) => PIXELS * length(subtract(p, point)));

describe("the point of a face that is meant", () => {
  it.each([
    ["the middle of the face", [0.07, 1, -0.07], [0, 1, 0]],
    ["the middle of an edge", [0.93, 1, 0.05], [1, 1, 0]],
    ["a corner", [0.94, 1, 0.95], [1, 1, 1]],
    ["an edge", [0.93, 1, 0.4], [1, 1, 0.4]],
    ["what was met, away from all of them", [0.5, 1, 0.5], [0.5, 1, 0.5]],
    ["what was met, just too far from an edge", [0.9, 1, 0.4], [0.9, 1, 0.4]],
  ] as const)("is %s", (_, point, expected) => {
    expect(met(point)).toEqual(expected);
  });

  it("of a round cap is its middle alone, and nothing where the middle is no surface", () => {
    expect(met([0.05, 1, 0.05], "cylinder")).toEqual([0, 1, 0]);
    expect(met([0.94, 1, 0.95], "cylinder")).toEqual([0.94, 1, 0.95]);
    expect(met([0.05, 1, 0.05], "tube")).toEqual([0.05, 1, 0.05]);
  });

  it("is what was met on a surface with no edge of its own", () => {
    expect(meant({ point: [0, 0.5, 0], normal: [1, 0, 0] }, "cuboid", OUTLINE, () => 0)).toEqual([0, 0.5, 0]);
  });
});
