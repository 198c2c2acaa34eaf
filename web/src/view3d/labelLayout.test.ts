import { expect, it } from "vitest";
import { type Box, spread } from "./labelLayout";

function box(left: number, top: number, fixed = false): Box {
  return { left, top, width: 40, height: 16, fixed };
}

it("labels that do not touch stay where they are", () => {
  expect(spread([box(0, 0), box(50, 0), box(0, 20)])).toEqual([0, 0, 0]);
});

it("of two in one place the second moves down, a third up", () => {
  expect(spread([box(0, 0), box(5, 4), box(2, 2)])).toEqual([0, 18, -18]);
});

it("a fixed label is never moved, whatever order they come in", () => {
  expect(spread([box(0, 0), box(0, 0, true)])).toEqual([18, 0]);
});

it("a label without room is hidden", () => {
  const wall = [-40, -20, 0, 20, 40].map((top) => box(0, top, true));
  expect(spread([...wall, box(0, 0)]).at(-1)).toBeNull();
});

it("after spreading, no two labels overlap", () => {
  const boxes = Array.from({ length: 12 }, (_, i) => box((i * 13) % 60, (i * 7) % 40));
  const shifts = spread(boxes);
  const shown = boxes.flatMap((each, i) => {
    const shift = shifts[i];
    return shift == null ? [] : [{ ...each, top: each.top + shift }];
  });
  expect(shown.length).toBeGreaterThan(3);
  for (const [i, a] of shown.entries())
    for (const b of shown.slice(i + 1))
      expect(Math.abs(a.left - b.left) >= 40 || Math.abs(a.top - b.top) >= 16).toBe(true);
});
