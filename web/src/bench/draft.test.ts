import { describe, expect, it } from "vitest";
import type { Draft, Pose, Step, StepView } from "../api/types";
import {
  bothKept,
  meeting,
  posesAfter,
  rebased,
  type Scene,
  unsavedOf,
  withAnswer,
  withCursor,
  withoutRefused,
  withStep,
  workOf,
} from "./draft";

const pose = (x: number): Pose => ({
  world_from_local: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, 0, 0, 1],
  pivot_world: [x, 0, 0],
});
const scene: Scene = { tree: [{ id: "crate", parent: null }], start: { crate: pose(0) } };
const by = (x: number): Step => ({ op: "move", objects: ["crate"], space: "world", by: [x, 0, 0] });

/** What the server answers for these steps. */
function draft(revision: number, steps: Step[], cursor = steps.length): Draft {
  let x = 0;
  const views = steps.map((step): StepView => {
    x += step.by![0];
    // The server writes every key, with null for what is not said.
    return {
      step: { ...step, to: null, point: null, entry: null },
      sentence: `to ${x}`,
      changed: { crate: pose(x) },
    };
  });
  return { revision, cursor, saved_at: "2026-11-24T10:00:00Z", steps: views, gaps: [] };
}

const xOf = (work: ReturnType<typeof workOf>) =>
  posesAfter(scene, work.entries, work.cursor).crate!.pivot_world[0];

describe("work on the bench", () => {
  it("shows a step at once, and the core's answer when it is there", () => {
    const before = workOf(draft(0, []));
    const done = withStep(before, by(2), scene);
    expect([xOf(done), done.dirty, done.entries[0]!.sentence]).toEqual([2, true, null]);
    const answered = withAnswer(done, done, draft(1, [by(2)]));
    expect([xOf(answered), answered.dirty, answered.entries[0]!.sentence]).toEqual([2, false, "to 2"]);
  });

  it("keeps a step that was made while the one before was being saved", () => {
    const sent = withStep(workOf(draft(0, [])), by(2), scene);
    const now = withStep(sent, by(3), scene);
    const answered = withAnswer(now, sent, draft(1, [by(2)]));
    expect(answered.entries.map((entry) => entry.sentence)).toEqual(["to 2", null]);
    expect([xOf(answered), answered.dirty, answered.revision]).toEqual([5, true, 1]);
  });

  it("undoes by moving the cursor, and drops what was undone only when another step is made", () => {
    const two = workOf(draft(1, [by(1), by(10)]));
    const undone = withCursor(two, 1);
    expect([xOf(undone), undone.entries.length, undone.dirty]).toEqual([1, 2, true]);
    expect(xOf(withCursor(undone, 2))).toBe(11);
    expect(withStep(undone, by(100), scene).entries.length).toBe(2);
    expect(withCursor(two, 99)).toBe(two);
    expect(withCursor(two, -1).cursor).toBe(0);
  });

  it("loses the refused step and nothing before it", () => {
    const work = withStep(withStep(workOf(draft(1, [by(1)])), by(2), scene), by(3), scene);
    const kept = withoutRefused(work, 2);
    expect([kept.entries.length, kept.cursor, xOf(kept)]).toEqual([1, 1, 1]);
  });
});

describe("work that meets a newer draft", () => {
  const mine = (steps: Step[], cursor = steps.length) => ({ revision: 1, steps, cursor });

  it("is settled where the server has the same steps: its answer was lost on the way", () => {
    const met = meeting(mine([by(1), by(2)]), draft(2, [by(1), by(2)]), scene);
    expect(met.kind === "settled" && [met.work.dirty, met.work.revision, xOf(met.work)]).toEqual([
      false,
      2,
      3,
    ]);
  });

  it("is settled where this window only goes on from there", () => {
    const met = meeting(mine([by(1), by(2), by(3)]), draft(2, [by(1)]), scene);
    expect(met.kind === "settled" && [met.work.dirty, met.work.revision, xOf(met.work)]).toEqual([
      true,
      2,
      6,
    ]);
  });

  it("is settled where the other window only went on from here", () => {
    const met = meeting(mine([by(1)]), draft(3, [by(1), by(5)]), scene);
    expect(met.kind === "settled" && [met.work.dirty, xOf(met.work)]).toEqual([false, 6]);
  });

  it("asks where both have steps that the other lacks, and each answer keeps what it says", () => {
    const [own, newer] = [mine([by(1), by(2)]), draft(5, [by(1), by(10)])];
    expect(meeting(own, newer, scene).kind).toBe("ask");
    expect(xOf(rebased(newer, own.steps, own.cursor, scene))).toBe(3);
    const both = bothKept(newer, own, scene);
    expect(unsavedOf(both).steps.map((step) => step.by![0])).toEqual([1, 10, 2]);
    expect([xOf(both), both.revision, both.dirty]).toEqual([13, 5, true]);
  });
});
