import { describe, expect, it } from "vitest";
import type { Box, SceneObject } from "../api/types";
import { plumbOf } from "./depth";

const CONVENTIONS = { up: "y", handedness: "right", length: "m", angle: "deg", euler: "XYZ" } as const;
const object = (id: string, parent: string | null = null) =>
  ({ id, name: id.toUpperCase(), parent, solid: { kind: "cuboid" } }) as unknown as SceneObject;
const OBJECTS = [object("quay"), object("crate"), object("lid", "crate"), object("far")];
const box = (least: Box["least"], most: Box["most"]): Box => ({ least, most });
const plumb = (crate: Box, up: "y" | "z" = "y") =>
  plumbOf(
    "crate",
    OBJECTS,
    {
      quay: up === "y" ? box([-10, -1, -10], [10, 0.5, 10]) : box([-10, -10, -1], [10, 10, 0.5]),
      crate,
      lid: box([0, 0, 0], [2, 0.5, 2]), // in the crate: it does not hold it up
      far: box([20, 0, 20], [22, 0.5, 22]),
    },
    { ...CONVENTIONS, up },
  )!;

describe("a plumb line", () => {
  it("says the height over the ground, and stands under the middle", () => {
    expect(plumb(box([1, 3, 1], [3, 5, 2]))).toEqual({
      from: [2, 3, 1.5],
      to: [2, 0, 1.5],
      footprint: [
        [1, 0, 1],
        [3, 0, 1],
        [3, 0, 2],
        [1, 0, 2],
      ],
      words: "3 m",
    });
    expect(plumb(box([1, 1, 3], [3, 2, 5]), "z")).toMatchObject({ from: [2, 1.5, 3], to: [2, 1.5, 0] });
  });

  it.each([
    [0.5, "on QUAY"],
    [0.5019, "on QUAY"], // a thousandth of its 2 m is 2 mm
    [0.5021, "0.5021 m"],
    [0.4981, "on QUAY"],
    [0, "on the ground"],
    [-0.3, "−0.3 m"],
  ])("%d over the ground is told as %s", (height, words) => {
    expect(plumb(box([1, height, 1], [3, height + 2, 2])).words).toBe(words);
  });

  it("what it only stands beside does not hold it", () => {
    expect(plumb(box([11, 0.5, 1], [13, 2.5, 2])).words).toBe("0.5 m");
    expect(plumb(box([22, 0.5, 22], [24, 2.5, 24])).words).toBe("0.5 m");
  });

  it("there is none of what has no box", () => {
    expect(plumbOf("lid", OBJECTS, {}, CONVENTIONS)).toBeNull();
  });
});
