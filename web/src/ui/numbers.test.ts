import { expect, it } from "vitest";
import { counted, fixed, fromNow, percent, placesFor, short, signed } from "./numbers";

it("has as many places as the tolerance can tell apart", () => {
  expect([0.05, 0.02, 0.1, 1, 20, 5].map(placesFor)).toEqual([3, 3, 2, 1, 0, 1]);
});

it("has a real minus sign and no negative zero", () => {
  expect(fixed(-1.5, 2)).toBe("−1.50");
  expect(fixed(-0.0001, 2)).toBe("0.00");
  expect([signed(0.5, 1), signed(-0.5, 1), signed(0, 1)]).toEqual(["+0.5", "−0.5", "0.0"]);
  expect([short(0.1 + 0.2), short(-2400)]).toEqual(["0.3", "−2400"]);
});

it("says marks and times in words", () => {
  expect([percent(0.9), percent(null)]).toEqual(["90%", "–"]);
  expect([counted(1, "step"), counted(0, "step")]).toEqual(["1 step", "0 steps"]);
  const now = new Date("2026-11-24T12:00:00Z");
  expect(fromNow("2026-11-24T12:20:00Z", now)).toBe("in less than an hour");
  expect(fromNow("2026-11-25T12:00:00Z", now)).toBe("in 24 hours");
  expect(fromNow("2026-11-28T18:00:00Z", now)).toBe("in 4 days");
  expect(fromNow("2026-11-21T11:00:00Z", now)).toBe("3 days ago");
});
