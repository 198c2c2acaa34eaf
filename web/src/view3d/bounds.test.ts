import { expect, it } from "vitest";
import type { Exercise, Poses, SceneObject } from "../api/types";
import { boundsOf, cornersOf, FAR, reachesOut } from "./bounds";
import { translation, type Vec3 } from "./matrices";

const crate = {
  id: "a",
  locked: false,
  local_box: { least: [-1, 0, -1], most: [1, 2, 1] },
} as unknown as SceneObject;
const at = (world: Vec3) =>
  ({ a: { world_from_local: translation(world), pivot_world: world } }) as unknown as Poses;

function exercise(part: object): Exercise {
  const base = { conventions: { up: "y" }, start: at([0, 0, 0]), target: {}, plot: null };
  return { ...base, ...part } as unknown as Exercise;
}

it("bounds by the ground what stands on it, and by the plot", () => {
  const plot = { least: [-5, -1, -5] as Vec3, most: [5, 9, 5] as Vec3 };
  expect(boundsOf(exercise({}), crate)).toEqual({ least: [-FAR, 0, -FAR], most: [FAR, FAR, FAR] });
  expect(boundsOf(exercise({ plot }), crate)).toEqual({ least: [-5, 0, -5], most: [5, 9, 5] });
});

it("lets be below the ground what is meant to be, and what is fixed", () => {
  expect(boundsOf(exercise({ target: at([0, -1, 0]) }), crate)!.least[1]).toBe(-FAR);
  expect(boundsOf(exercise({}), { ...crate, locked: true })).toBeNull();
});

it("takes what touches a wall for inside, and what reaches through it for outside", () => {
  const bounds = boundsOf(exercise({}), crate)!;
  const outside = (world: Vec3) => reachesOut(cornersOf([crate], at(world)), bounds);
  expect([outside([3, 0, 0]), outside([3, -1e-9, 0]), outside([3, -0.01, 0])]).toEqual([false, false, true]);
});

it("gives the corners of the box as it stands", () => {
  const corners = cornersOf([crate], at([0, 0, 0]));
  expect(corners).toHaveLength(8);
  expect(corners).toContainEqual([1, 2, -1]);
});
