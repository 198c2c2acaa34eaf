import { expect, test } from "vitest";
import type { Home } from "../api/types";
import { needsOf } from "./InstructorHome";
import { nextOf } from "./StudentHome";

const NOW = new Date("2026-11-27T12:00:00Z");
const days = (n: number) => new Date(NOW.getTime() + n * 86_400_000).toISOString();

type Row = Home["to_do"][number];
type State = Row["work"]["state"];
const row = (assignment: number, due: number, state: State, more: Partial<Row> = {}): Row => ({
  assignment,
  title: "",
  class_name: "",
  opens_at: null,
  due_at: days(due),
  attempts_left: null,
  own_due: false,
  excused: false,
  archived: false,
  mark_shown: true,
  late_policy: { kind: "no cost", per_day: 0, floor: 0 },
  work: { state, attempts: 0, score: null, passed: false, late: false, newest_submission: null },
  ...more,
});

test.each([
  ["the first due", [row(1, 5, "not started"), row(2, 3, "not started")], 2],
  ["what is half done before what is due first", [row(1, 5, "started"), row(2, 3, "not started")], 1],
  ["not what is submitted", [row(1, 1, "submitted"), row(2, 3, "not started")], 2],
  ["not what is past", [row(1, -1, "started"), row(2, 3, "not started")], 2],
  ["not what is to open", [row(1, 1, "not started", { opens_at: days(0.5) }), row(2, 3, "not started")], 2],
  ["not what has no try left", [row(1, 1, "started", { attempts_left: 0 }), row(2, 3, "not started")], 2],
  ["nothing", [row(1, -1, "started")], undefined],
])("next is %s", (_what, rows, wanted) => {
  expect(nextOf(rows, NOW)?.assignment).toBe(wanted);
});

test("what needs an instructor: due today first, then what nobody reviewed at, then what many share", () => {
  const taught = (assignment: number, more: Partial<Home["taught"][number]>): Home["taught"][number] => ({
    assignment,
    title: `No. ${assignment}`,
    class_id: 1,
    class_name: "",
    opens_at: null,
    due_at: days(5),
    students: 10,
    submitted: 4,
    passed: 2,
    not_reviewed: 0,
    next_to_review: null,
    shared: "",
    shared_by: 0,
    ...more,
  });
  const rows = [
    taught(1, { shared: "a step was left out", shared_by: 3 }),
    taught(2, { not_reviewed: 2, next_to_review: 17 }),
    taught(3, { not_reviewed: 9, next_to_review: 18 }),
    taught(4, { due_at: days(0.5) }),
    taught(5, { due_at: days(-0.5) }),
    taught(6, {}),
  ];
  expect(needsOf(rows, NOW).map(({ key }) => key)).toEqual(["due 4", "look 3", "look 2", "cause 1"]);
  expect(needsOf(rows, NOW)[1]?.to).toBe("/result/18");
  expect(needsOf([taught(6, {})], NOW)).toEqual([]);
});
