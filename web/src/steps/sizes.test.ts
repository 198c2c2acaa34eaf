import { expect, it } from "vitest";
import type { Exercise } from "../api/types";
import { firstSizes, offeredSizes } from "./sizes";

const conventions = (length: string, angle: string) =>
  ({ length, angle }) as unknown as Exercise["conventions"];

it("offers the same sizes in every unit", () => {
  expect(offeredSizes("move", conventions("mm", "deg"))).toEqual([1000, 100, 10, 1]);
  expect(offeredSizes("rotate", conventions("m", "turn"))[0]).toBeCloseTo(0.25);
  expect(firstSizes(conventions("cm", "rad"))).toEqual({ move: 10, rotate: Math.PI / 12, scale: 0.1 });
  expect(firstSizes(conventions("m", "deg"))).toEqual({ move: 0.1, rotate: 15, scale: 0.1 });
});
