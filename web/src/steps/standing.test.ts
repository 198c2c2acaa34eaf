import { expect, it } from "vitest";
import { boxSizes, standingFree } from "./standing";

const box = (least: readonly number[], most: readonly number[]) =>
  ({ least: [...least], most: [...most] }) as never;
const nothing = { marker: [1, 0, 2], boxes: {} } as const;

it("stands on the height of the marker where nothing is in the way, whichever axis is up", () => {
  expect(standingFree([2, 3, 4], 0.25, 1, nothing)).toEqual([1, 1.5, 2]);
  expect(standingFree([2, 3, 4], 0.25, 2, { marker: [1, 2, 5], boxes: { pipe: null } })).toEqual([1, 2, 7]);
});

it("stands on a slab that ends where it begins, and beside what is as high as it", () => {
  const slab = box([-9, -1, -9], [9, 0, 9]);
  const crate = box([0.5, 0, 1.5], [1.5, 1, 2.5]);
  expect(standingFree([1, 1, 1], 0.25, 1, { ...nothing, boxes: { slab } })).toEqual([1, 0.5, 2]);
  expect(standingFree([1, 1, 1], 0.25, 1, { ...nothing, boxes: { slab, crate } })).toEqual([2.25, 0.5, 2]);
});

it("goes on from one that is in the way to the next, and takes the way that is shortest", () => {
  const row = {
    first: box([0.5, 0, 1.5], [1.5, 1, 2.5]),
    second: box([1.6, 0, 1.5], [2.6, 1, 2.5]),
    left: box([-4, 0, 1.5], [0.4, 1, 2.5]),
  };
  const place = standingFree([1, 1, 1], 0.25, 1, { ...nothing, boxes: row });
  expect(place).toEqual([1, 0.5, 3.25]); // along the other way over the ground, which is nearer than past the row
  const wall = { before: box([-9, 0, 2.6], [9, 1, 9]), behind: box([-9, 0, -9], [9, 1, 1.4]) };
  expect(standingFree([1, 1, 1], 0.25, 1, { ...nothing, boxes: { ...row, ...wall } })).toEqual([
    3.35, 0.5, 2,
  ]);
  const above = { lamp: box([0, 3, 1], [2, 4, 3]) };
  expect(standingFree([1, 1, 1], 0.25, 1, { ...nothing, boxes: above })).toEqual([1, 0.5, 2]);
});

it("knows the box of every solid of the rack", () => {
  const y = { up: "y" } as never;
  const z = { up: "z" } as never;
  for (const kind of ["cuboid", "wedge", "pyramid"] as const)
    expect(boxSizes({ kind, size: [1, 2, 3] }, y)).toEqual([1, 2, 3]);
  expect(boxSizes({ kind: "sphere", diameter: 2 }, z)).toEqual([2, 2, 2]);
  for (const kind of ["cylinder", "cone"] as const) {
    expect(boxSizes({ kind, diameter: 2, height: 5 }, y)).toEqual([2, 5, 2]);
    expect(boxSizes({ kind, diameter: 2, height: 5 }, z)).toEqual([2, 2, 5]);
  }
  expect(boxSizes({ kind: "tube", diameter: 2, bore: 1, height: 5 }, z)).toEqual([2, 2, 5]);
  expect(boxSizes({ kind: "ring", diameter: 4, thickness: 1 }, y)).toEqual([4, 1, 4]);
  expect(boxSizes({ kind: "plate", size: [2, 3] }, y)).toEqual([2, 0, 3]);
  expect(boxSizes({ kind: "plate", size: [2, 3] }, z)).toEqual([2, 3, 0]);
});
