import { describe, expect, it } from "vitest";
import {
  clearestAngle,
  dragOnCircle,
  dragOnLine,
  dragOnPlane,
  nearestMultiple,
  niceStep,
  type Ray,
  squareTo,
  stretch,
  unwound,
} from "./dragGeometry";
import {
  along,
  cross,
  dot,
  length,
  ownAxes,
  scaled,
  subtract,
  transposed,
  turned,
  type Vec3,
} from "./matrices";

const unit = (v: Vec3): Vec3 => scaled(v, 1 / length(v));
const towards = (from: Vec3, to: Vec3): Ray => ({ origin: from, direction: unit(subtract(to, from)) });

describe("a drag along a line", () => {
  const line = { origin: [1, 2, 3] as Vec3, direction: unit([1, 1, 0]) };
  const place = (at: number): Vec3 => [1 + at / Math.SQRT2, 2 + at / Math.SQRT2, 3];

  it.each([-40, -1, 0, 0.25, 7, 60])("finds the point that the ray goes through, at %d", (at) => {
    for (const eye of [
      [5, 9, 20],
      [-30, 4, 2],
      [1, 2, -50],
    ] as Vec3[]) {
      const met = dragOnLine(towards(eye, place(at)), line);
      expect(met.kind).toBe("on-line");
      if (met.kind === "on-line") expect(met.at).toBeCloseTo(at, 6);
    }
  });

  it("is the nearest point where the ray misses the line", () => {
    // By hand: the line is the X axis; a ray down along −Z through (4, 2, ·) passes it nearest at x = 4.
    const met = dragOnLine(
      { origin: [4, 2, 9], direction: [0, 0, -1] },
      { origin: [0, 0, 0], direction: [1, 0, 0] },
    );
    expect(met).toEqual({ kind: "on-line", at: 4 });
  });

  it("is the same for an orthographic view, where all rays are parallel", () => {
    const direction: Vec3 = unit([0, -1, -2]);
    const at = (x: number) =>
      dragOnLine({ origin: [x, 5, 10], direction }, { origin: [0, 0, 0], direction: [1, 0, 0] });
    expect(at(3)).toEqual({ kind: "on-line", at: 3 });
    expect(at(-8)).toEqual({ kind: "on-line", at: -8 });
  });

  it("is refused, and not wild, where the line points at the viewer", () => {
    const met = dragOnLine(towards(place(50), place(0)), line);
    expect(met).toEqual({ kind: "view-along-axis" });
  });
});

describe("a drag in a plane", () => {
  const plane = { origin: [0, 1, 0] as Vec3, u: [1, 0, 0] as Vec3, v: [0, 0, 1] as Vec3 };

  it("finds the point that the ray goes through", () => {
    const met = dragOnPlane(towards([3, 8, 9], [-2, 1, 4]), plane);
    expect(met.kind).toBe("on-plane");
    if (met.kind === "on-plane") {
      expect(met.at[0]).toBeCloseTo(-2, 9);
      expect(met.at[1]).toBeCloseTo(4, 9);
    }
  });

  it("is refused where the plane is seen from its edge, and where it lies behind the viewer", () => {
    expect(dragOnPlane(towards([9, 1.01, 0], [0, 1, 0]), plane)).toEqual({ kind: "view-along-plane" });
    expect(dragOnPlane(towards([0, 5, 0], [0, 9, 0.1]), plane)).toEqual({ kind: "view-along-plane" });
  });
});

describe("steps and ticks", () => {
  it.each([
    [0.13, 0.2],
    [1, 1],
    [1.01, 2],
    [4.2, 5],
    [7, 10],
    [0.0003, 0.0005],
  ])("a step of at least %d is %d", (least, step) => {
    expect(niceStep(least)).toBeCloseTo(step, 12);
  });

  it("multiples are clean numbers", () => {
    expect(nearestMultiple(0.31, 0.1)).toBe(0.3);
    expect(nearestMultiple(-0.31, 0.1)).toBe(-0.3);
    expect(nearestMultiple(1234, 500)).toBe(1000);
    expect(Object.is(nearestMultiple(-0.01, 0.1), 0)).toBe(true);
  });
});

describe("a drag on a circle", () => {
  const circle = { centre: [0, 0, 0], axis: [0, 1, 0], zero: [0, 0, 1] } as const;
  const down = (x: number, z: number): Ray => ({ origin: [x, 5, z], direction: [0, -1, 0] });

  it("is the angle by the hand rule, wherever the ray meets the plane", () => {
    // About Y, Z turns to X.
    for (const [x, z, degrees] of [
      [0, 2, 0],
      [3, 0, 90],
      [0, -1, 180],
      [-1, 0, -90],
    ] as const) {
      const met = dragOnCircle(down(x, z), circle);
      expect(met.kind === "on-circle" && (met.angleRad * 180) / Math.PI).toBeCloseTo(degrees, 9);
    }
  });

  it("seen from its edge it is no angle but says so", () => {
    expect(dragOnCircle({ origin: [0, 0, 9], direction: [0, 0, -1] }, circle).kind).toBe("edge-on");
  });

  it("goes round and round", () => {
    const turn = 2 * Math.PI;
    expect(unwound(-3.1, 3.1)).toBeCloseTo(turn - 3.1, 12);
    expect(unwound(-0.1, 0.1)).toBeCloseTo(-0.1, 12);
    expect(unwound(0.2, 2 * turn)).toBeCloseTo(2 * turn + 0.2, 12);
  });

  it("zero is a direction square to the axis", () => {
    for (const axis of [
      [1, 0, 0],
      [0, 0, 1],
      [0.6, 0, 0.8],
    ] as const) {
      expect(dot(squareTo(axis), axis)).toBeCloseTo(0, 12);
      expect(length(squareTo(axis))).toBeCloseTo(1, 12);
    }
  });
});

describe("a drag that stretches", () => {
  it("is how many times as far from what is held the bead is", () => {
    expect(stretch(1, 2)).toBe(1.5);
    expect(stretch(-1, 2)).toBe(0.5);
  });

  it("never flattens and never turns inside out", () => {
    expect(stretch(-99, 2)).toBeGreaterThan(0);
  });
});

describe("matrices", () => {
  it("own axes are unit and proper, and of what is skewed the nearest that are square", () => {
    const mirrored = [-2, 0, 0, 0, 0, 3, 0, 0, 0, 0, 4, 0, 7, 8, 9, 1];
    const axes = ownAxes(mirrored);
    expect(dot(cross(axes[0], axes[1]), axes[2])).toBe(1);
    expect(axes[0].map((n) => n + 0)).toEqual([1, 0, 0]);
    const [x, y, z] = ownAxes([1, 0, 0, 0, 0.5, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]);
    for (const pair of [dot(x, y), dot(y, z), dot(z, x)]) expect(Math.abs(pair)).toBeLessThan(1e-14);
    expect(dot(cross(x, y), z)).toBeCloseTo(1, 14);
    expect(x[1]).toBeCloseTo(-y[0], 14); // a shear turns by half of itself to either side
  });

  it("a turn and its transpose undo each other", () => {
    const left_z_up = [1, 0, 0, 0, 0, 1, 0, 1, 0];
    expect(turned(transposed(left_z_up), turned(left_z_up, [1, 2, 3]))).toEqual([1, 2, 3]);
    expect(
      along(
        [
          [0, 1, 0],
          [1, 0, 0],
          [0, 0, 1],
        ],
        [1, 2, 3],
      ),
    ).toEqual([2, 1, 3]);
  });
});

it("puts a ring's letter where no other ring is near in the picture", () => {
  const sight = { right: [1, 0, 0] as Vec3, up: [0, 1, 0] as Vec3 };
  const facing = { centre: [0, 0, 0] as Vec3, axis: [0, 0, 1] as Vec3, zero: [1, 0, 0] as Vec3, radius: 80 };
  const edgeOn = { ...facing, axis: [0, 1, 0] as Vec3 };
  // Seen as a line from (−80, 0) to (80, 0), so the facing ring is clearest of it at its top and its foot.
  expect(Math.abs(Math.sin(clearestAngle([facing, edgeOn], sight)))).toBeCloseTo(1);
  // The line itself is farthest from the facing ring in the middle.
  expect(Math.cos(clearestAngle([edgeOn, facing], sight))).toBeCloseTo(0);
});
