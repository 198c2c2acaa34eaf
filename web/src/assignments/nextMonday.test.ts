import { expect, test } from "vitest";
import { nextMonday } from "./nextMonday";

test.each([
  ["2026-12-02", "2026-12-07"],
  ["2026-12-06", "2026-12-07"],
  ["2026-12-07", "2026-12-14"],
  ["2026-12-08", "2026-12-14"],
])("the Monday after %s is %s", (today, monday) => {
  expect(nextMonday(new Date(`${today}T12:00:00Z`))).toBe(monday);
});
