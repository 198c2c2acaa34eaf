import { expect, it } from "vitest";
import { lateNote } from "./lateNote";

it("says what late work costs, and nothing if it costs nothing", () => {
  expect(lateNote({ kind: "no cost", per_day: 0.1, floor: 0.5 })).toBe("");
  expect(lateNote({ kind: "does not count", per_day: 0, floor: 0 })).toBe("late work does not count");
  expect(lateNote({ kind: "per day", per_day: 0.1, floor: 0 })).toBe("late work loses 10% per day");
  expect(lateNote({ kind: "per day", per_day: 0.1, floor: 0.5 })).toBe(
    "late work loses 10% per day, keeps at least 50%",
  );
});
