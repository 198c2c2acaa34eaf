import { expect, it } from "vitest";
import type { CheckResult, Exercise, Pose, StepView } from "../api/types";
import { translation, type Vec3 } from "../view3d/matrices";
import { missOf, sceneAfter } from "./scene";

const pose = (at: Vec3) => ({ world_from_local: [...translation(at)], pivot_world: [...at] }) as Pose;
const exercise = {
  start: { a: pose([0, 0, 0]), b: pose([9, 0, 0]) },
  target: { a: pose([3, 0, 0]) },
  objects: [{ id: "a" }, { id: "b" }],
  halos: [{ check: "c", object: "a", centre_world: [3, 1, 0] }],
} as unknown as Exercise;
const step = (changed: object, objects: unknown = []) =>
  ({ changed, objects, gone: [] }) as unknown as StepView;

it("shows the scene after so many steps", () => {
  const steps = [
    step({ a: pose([1, 0, 0]) }),
    step({ a: pose([2, 0, 0]), n: pose([5, 5, 5]) }, [{ id: "n", solid_of: null }]),
  ];
  expect(sceneAfter(exercise, steps, 0).poses.a!.pivot_world).toEqual([0, 0, 0]);
  expect(sceneAfter(exercise, steps, 1).poses.a!.pivot_world).toEqual([1, 0, 0]);
  expect(sceneAfter(exercise, steps, 1).objects).toHaveLength(2);
  expect(sceneAfter(exercise, steps, 2).objects).toEqual([{ id: "a" }, { id: "b" }, { id: "n" }]);
});

it("measures a miss between the same point of the object in both places", () => {
  const check = { id: "c", kind: "position", object: "a" } as CheckResult;
  expect(missOf(check, exercise, { a: pose([2, 0, 5]) })).toEqual([
    [2, 1, 5],
    [3, 1, 0],
  ]);
  expect(missOf({ ...check, kind: "rotation" }, exercise, { a: pose([2, 0, 5]) })).toBeNull();
  expect(missOf(check, exercise, {})).toBeNull();
});
