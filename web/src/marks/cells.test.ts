import { expect, test } from "vitest";
import type { Board, BoardCell } from "../api/types";
import { cellsOf, signs, standingOf, withChanges, words } from "./cells";

const NOW = "2026-11-27T12:00:00Z";
const cell = (more: Partial<BoardCell>): BoardCell => ({
  assignment: 1,
  person: 2,
  attempts: 0,
  score: null,
  passed: false,
  late: false,
  newest: null,
  reviewed: false,
  at_work: null,
  in_place: null,
  checks: null,
  exception: null,
  ...more,
});

test.each([
  [undefined, "none", "", "not started"],
  [cell({ at_work: "2026-11-27T11:56:00Z" }), "working", "✎", "not submitted, working now"],
  [
    cell({ at_work: "2026-11-27T11:56:00Z", in_place: 2, checks: 4 }),
    "working",
    "✎ 2/4",
    "not submitted, working now, 2 of 4 checks in place",
  ],
  [
    cell({ at_work: "2026-11-27T11:59:00Z", attempts: 1, score: 0.5, newest: 9, reviewed: true }),
    "working",
    "50% ✕ ✎",
    "50%, not passed, 1 attempt, working now",
  ],
  [cell({ at_work: "2026-11-27T11:54:00Z" }), "started", "started", "not submitted, started"],
  [
    cell({ attempts: 1, score: 0.5, newest: 9 }),
    "failed",
    " 50% ✕",
    "50%, not passed, 1 attempt, not reviewed",
  ],
  [
    cell({ attempts: 2, score: 1, passed: true, newest: 9, reviewed: true, late: true }),
    "passed",
    "100% ✓",
    "100%, passed, 2 attempts, late",
  ],
  [
    cell({ attempts: 1, newest: 9, reviewed: true, late: true }),
    "failed",
    "   – ✕",
    "no mark counts, not passed, 1 attempt, late",
  ],
  [
    cell({ exception: { due_at: null, due: null, attempts: 5, excused: true, reason: "ill" } }),
    "none",
    "   – ✕",
    "not started, excused, 5 attempts allowed",
  ],
])("a cell says %#", (one, standing, sign, said) => {
  expect(standingOf(one, NOW)).toBe(standing);
  if (one) expect(signs(one, standingOf(one, NOW))).toBe(sign);
  expect(words(one, standingOf(one, NOW))).toBe(said);
});

test("a cell that changed takes the place of what was there, a new one comes in, and totals follow", () => {
  const rows = [2, 3].map((person) => ({ person, name: "", left: false, total: 0.5 }));
  const board = { rows, cells: [cell({}), cell({ person: 3 })], now: NOW } as unknown as Board;
  const later = withChanges(board, {
    cells: [cell({ attempts: 1 }), cell({ assignment: 5 })],
    totals: [
      { person: 2, total: 0.75 },
      { person: 3, total: 0.5 },
    ],
    now: "2026-11-27T12:01:00Z",
  });
  expect(later.rows.map((row) => row.total)).toEqual([0.75, 0.5]);
  expect(later.rows[1]).toBe(rows[1]); // so that its row is not drawn again
  expect(later.cells).toHaveLength(3);
  expect(cellsOf(later).get(2)?.get(1)?.attempts).toBe(1);
  expect(cellsOf(later).get(2)?.get(5)?.attempts).toBe(0);
  expect(cellsOf(later).get(3)?.get(1)?.attempts).toBe(0);
});
