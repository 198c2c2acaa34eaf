import { expect, it } from "vitest";
import { sorted } from "./useSort";

const rows = [
  { name: "Wren", points: 2 },
  { name: "Ansel", points: null },
  { name: "Örn", points: 10 },
];

it("sorts words by the alphabet, and numbers by size", () => {
  expect(sorted(rows, ({ name }) => name, false).map(({ name }) => name)).toEqual(["Ansel", "Örn", "Wren"]);
  expect(sorted(rows, ({ points }) => points, false).map(({ points }) => points)).toEqual([2, 10, null]);
});

it("keeps blanks last in the other direction too", () => {
  expect(sorted(rows, ({ points }) => points, true).map(({ points }) => points)).toEqual([10, 2, null]);
});

it("leaves the rows that it was given as they were", () => {
  sorted(rows, ({ name }) => name, true);
  expect(rows[0]?.name).toBe("Wren");
});
