import { describe, expect, it } from "vitest";
import { axisAlong, drawn, hull, LOOKS, onPaper, pictureFromLocal } from "./elevations";
import { cross, dot, IDENTITY, type Vec3 } from "./matrices";

const Y_UP = [1, 0, 0, 0, 1, 0, 0, 0, 1];
const Z_UP = [1, 0, 0, 0, 0, -1, 0, 1, 0]; // X right, Y away, Z up, column by column

describe("elevations", () => {
  it("right, up and toward the viewer are square to each other and right-handed on every side", () => {
    for (const { right, up, toward } of Object.values(LOOKS)) {
      const third = cross(right, up);
      expect(dot(third, toward)).toBeCloseTo(1, 12);
      expect(dot(right, up)).toBeCloseTo(0, 12);
    }
  });

  it("front, side and top show what the others hide", () => {
    const point: Vec3 = [1, 2, 3];
    expect(onPaper(LOOKS.front, point)).toEqual([1, -2]);
    expect(onPaper(LOOKS.side, point)).toEqual([-3, -2]); // seen from the right, what is near the viewer lies left
    expect(onPaper(LOOKS.top, point)).toEqual([1, 3]);
  });

  it("name the exercise's own axes", () => {
    expect([axisAlong(Y_UP, LOOKS.top.up), axisAlong(Y_UP, LOOKS.side.right)]).toEqual(["−Z", "−Z"]);
    expect([axisAlong(Z_UP, LOOKS.front.up), axisAlong(Z_UP, LOOKS.top.up)]).toEqual(["Z", "Y"]);
    expect(axisAlong(Y_UP, LOOKS.free.right)).toBe("");
  });

  it("the outline of a box is its hull", () => {
    const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i): Vec3 => [i & 1, (i >> 1) & 1, (i >> 2) & 1]);
    const { outline, lines, nearest } = drawn(LOOKS.front, pictureFromLocal(Y_UP, IDENTITY), corners);
    expect([outline.length, lines.length, nearest]).toEqual([4, 4, 1]);
    expect(
      hull([
        [0, 0],
        [2, 0],
        [1, 0.5],
        [0, 2],
        [2, 2],
        [1, 1],
      ]),
    ).toHaveLength(4);
  });
});
