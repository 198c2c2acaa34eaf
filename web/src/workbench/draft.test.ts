import { describe, expect, it } from "vitest";
import type { Draft, Move, Pose, SceneObject, Step, StepView } from "../api/types";
import {
  bothKept,
  canRedo,
  canUndo,
  draftKind,
  knownOf,
  meeting,
  onOtherGround,
  rebased,
  redone,
  type Start,
  settingAfter,
  undone,
  unsavedOf,
  type Work,
  withAnswer,
  withEntries,
  withMatches,
  withoutRefused,
  withStep,
  workOf,
} from "./draft";

const pose = (x: number): Pose => ({
  world_from_local: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, 0, 0, 1],
  pivot_world: [x, 0, 0],
});
const start: Start = {
  objects: [{ id: "crate", parent: null } as SceneObject],
  start: { crate: pose(0) },
  marker: [0, 0, 0],
  conventions: { up: "y", handedness: "right", length: "m", angle: "deg", euler: "XYZ" },
};
const by = (x: number): Step => ({ op: "move", objects: ["crate"], space: "world", by: [x, 0, 0] });

/** What the server answers for these steps, from the one at place `first` on. */
function draft(revision: number, steps: Step[], cursor = steps.length, off: number[] = [], first = 0): Draft {
  let x = 0;
  const views = steps.map((step, i): StepView => {
    if (!off.includes(i)) x += (step as Move).by![0];
    return {
      // The server writes every key, with null for what is not said.
      step: { ...step, to: null, point: null, entry: null } as Step,
      on: !off.includes(i),
      sentence: `to ${x}`,
      changed: off.includes(i) ? {} : { crate: pose(x) },
      objects: [],
      gone: [],
      marker: null,
      skewed: [],
    };
  });
  return {
    revision,
    cursor,
    saved_at: "2026-11-24T10:00:00Z",
    first,
    steps: views.slice(first),
    refused: null,
    rest: [],
    matches: {},
    state: { gaps: [], readings: {}, matches: [] },
  };
}

const xOf = (work: Work) => settingAfter(start, work.entries, work.cursor, {}).poses.crate!.pivot_world[0];
const amounts = (work: Work) => work.entries.map((entry) => (entry.step as Move).by![0]);

describe("work on the bench", () => {
  it("shows a step at once, and the core's answer when it is there", () => {
    const before = workOf(draft(0, []));
    const done = withStep(before, by(2), start);
    expect([xOf(done), done.dirty, done.entries[0]!.sentence]).toEqual([2, true, null]);
    const answered = withAnswer(done, done, draft(1, [by(2)]));
    expect([xOf(answered), answered.dirty, answered.entries[0]!.sentence]).toEqual([2, false, "to 2"]);
  });

  it("keeps what was chosen by hand: sent, answered, taken back and done again", () => {
    const work = withMatches(workOf(draft(1, [by(1)])), { wall: "slab" });
    expect([work.dirty, unsavedOf(work).matches]).toEqual([true, { wall: "slab" }]);
    expect(withAnswer(work, work, { ...draft(2, [by(1)]), matches: { wall: "slab" } }).dirty).toBe(false);
    const taken = undone(work);
    expect([taken.matches, taken.entries.length, taken.cursor, taken.dirty]).toEqual([{}, 1, 1, true]);
    expect(redone(taken).matches).toEqual({ wall: "slab" });
    // A choice made while another was on its way is still to be sent.
    const later = withMatches(work, { wall: "slab", roof: "lid" });
    expect(withAnswer(later, work, { ...draft(2, [by(1)]), matches: { wall: "slab" } })).toMatchObject({
      dirty: true,
      matches: { wall: "slab", roof: "lid" },
    });
  });

  it("loses no choice of either window where one went on from the other", () => {
    const base = { ...workOf(draft(2, [by(1), by(2)])), matches: { wall: "slab" } };
    const mine = { revision: 1, steps: [by(1)], off: [], cursor: 1, matches: { roof: "lid" } };
    expect(meeting(base, mine, start)).toMatchObject({
      matches: { wall: "slab", roof: "lid" },
      cursor: 2,
      dirty: true,
    });
    expect(meeting(base, { ...mine, matches: {} }, start)).toMatchObject({ dirty: false });
    const { matches: _, ...old } = mine; // a copy that a release before this one left behind
    expect(meeting(base, old, start)).toMatchObject({ matches: { wall: "slab" }, dirty: false });
    const theirs = workOf(draft(2, [by(1), by(3)]));
    expect(bothKept(theirs, { ...mine, steps: [by(1), by(2)], cursor: 2 }, start)).toMatchObject({
      matches: { roof: "lid" },
    });
  });

  it("asks only for the steps that were not answered yet, and joins the answer to those that were", () => {
    const work = withStep(workOf(draft(1, [by(1), by(2)])), by(3), start);
    expect(knownOf(work)).toBe(2);
    const answered = withAnswer(work, work, draft(2, [by(1), by(2), by(3)], 3, [], 2));
    expect(answered.entries.map((entry) => entry.sentence)).toEqual(["to 1", "to 3", "to 6"]);
  });

  it("keeps a step that was made while the one before was being saved", () => {
    const sent = withStep(workOf(draft(0, [])), by(2), start);
    const now = withStep(sent, by(3), start);
    const answered = withAnswer(now, sent, draft(1, [by(2)]));
    expect(answered.entries.map((entry) => entry.sentence)).toEqual(["to 2", null]);
    expect([xOf(answered), answered.dirty, answered.revision]).toEqual([5, true, 1]);
  });

  it("undoes by moving the cursor, and drops what was undone only when another step is made", () => {
    const two = workOf(draft(1, [by(1), by(10)]));
    const back = undone(two);
    expect([xOf(back), back.entries.length, back.dirty]).toEqual([1, 2, true]);
    expect(xOf(redone(back))).toBe(11);
    expect(withStep(back, by(100), start).entries.length).toBe(2);
    expect([canRedo(two), canUndo(undone(back))]).toEqual([false, false]);
  });

  it("shows an edit and all that follows from it at once, and undoes it as a whole", () => {
    const work = workOf(draft(1, [by(1), by(10), by(100)]));
    const changed = work.entries.map((entry, i) => (i === 1 ? { ...entry, step: by(20) } : entry));
    const edited = withEntries(work, changed, start);
    expect([xOf(edited), knownOf(edited), edited.dirty]).toEqual([121, 1, true]);
    expect(amounts(undone(edited))).toEqual([1, 10, 100]);
    expect(amounts(redone(undone(edited)))).toEqual([1, 20, 100]);
  });

  it("undoes edits and steps in the order in which they were made", () => {
    const work = workOf(draft(1, [by(1)]));
    const more = withStep(work, by(2), start);
    const less = withEntries(more, more.entries.slice(1), start);
    expect(amounts(less)).toEqual([2]);
    expect([xOf(undone(less)), xOf(undone(undone(less)))]).toEqual([3, 1]);
    expect(xOf(redone(redone(undone(undone(less)))))).toBe(2);
  });

  it("on another ground, what undo and redo bring back is asked for anew", () => {
    const work = workOf(draft(1, [by(1), by(2)]));
    const edited = withEntries(work, work.entries.slice(1), start);
    const [answered, back] = [withAnswer(edited, edited, draft(2, [by(2)])), undone(edited)];
    expect(knownOf(undone(answered))).toBe(2);
    const asked = undone(onOtherGround(answered));
    expect([amounts(asked), knownOf(asked)]).toEqual([[1, 2], 0]);
    const again = redone(onOtherGround(withAnswer(back, back, draft(3, [by(1), by(2)]))));
    expect([amounts(again), knownOf(again)]).toEqual([[2], 0]);
  });

  it("a step switched off stays in the list and moves nothing", () => {
    const work = workOf(draft(1, [by(1), by(10)]));
    const off = withEntries(work, [{ ...work.entries[0]!, on: false }, work.entries[1]!], start);
    expect([xOf(off), unsavedOf(off).off]).toEqual([10, [0]]);
  });

  it("loses the refused step and nothing before it, or takes back the edit that was refused", () => {
    const work = withStep(withStep(workOf(draft(1, [by(1)])), by(2), start), by(3), start);
    const kept = withoutRefused(work, 2);
    expect([kept.entries.length, kept.cursor, xOf(kept)]).toEqual([1, 1, 1]);
    const whole = workOf(draft(1, [by(1)]));
    const edited = withEntries(whole, [{ ...whole.entries[0]!, step: by(7) }], start);
    expect(amounts(withoutRefused(edited, 1))).toEqual([1]);
  });

  it("keeps the steps after one that can no longer be done", () => {
    const answer = {
      ...draft(1, [by(1)]),
      cursor: 3,
      rest: [
        { step: by(2), on: true },
        { step: by(3), on: false },
      ],
    };
    const work = workOf(answer);
    expect(amounts(work)).toEqual([1, 2, 3]);
    expect(unsavedOf(work)).toMatchObject({ off: [2], cursor: 3 });
  });
});

describe("work that meets a newer draft", () => {
  const mine = (steps: Step[], cursor = steps.length) => ({ revision: 1, steps, off: [], cursor });

  it("is settled where the server has the same steps: its answer was lost on the way", () => {
    const met = meeting(workOf(draft(2, [by(1), by(2)])), mine([by(1), by(2)]), start)!;
    expect([met.dirty, met.revision, xOf(met)]).toEqual([false, 2, 3]);
  });

  it("is settled where this window only goes on from there", () => {
    const met = meeting(workOf(draft(2, [by(1)])), mine([by(1), by(2), by(3)]), start)!;
    expect([met.dirty, met.revision, xOf(met)]).toEqual([true, 2, 6]);
  });

  it("is settled where the other window only went on from here", () => {
    const met = meeting(workOf(draft(3, [by(1), by(5)])), mine([by(1)]), start)!;
    expect([met.dirty, xOf(met)]).toEqual([false, 6]);
  });

  it("is settled where it was made on this very state, a step removed in it too", () => {
    const met = meeting(workOf(draft(1, [by(1), by(5)])), mine([by(1)]), start)!;
    expect([met.dirty, xOf(met)]).toEqual([true, 1]);
  });

  it("asks where both have steps that the other lacks, and each answer keeps what it says", () => {
    const [own, base] = [mine([by(1), by(2)]), workOf(draft(5, [by(1), by(10)]))];
    expect(meeting(base, own, start)).toBeNull();
    expect(xOf(rebased(base, own, start))).toBe(3);
    const both = bothKept(base, own, start);
    expect(amounts(both)).toEqual([1, 10, 2]);
    expect([xOf(both), both.revision, both.dirty]).toEqual([13, 5, true]);
  });

  it("both keeps what both have once, wherever it stands", () => {
    const base = workOf(draft(5, [by(1), by(10), by(2)]));
    expect(amounts(bothKept(base, mine([by(1), by(2), by(3)]), start))).toEqual([1, 10, 2, 3]);
    expect(amounts(bothKept(base, mine([by(7), by(1), by(10), by(2)]), start))).toEqual([1, 10, 2, 7]);
    expect(amounts(bothKept(base, mine([by(2), by(2)]), start))).toEqual([1, 10, 2, 2]);
  });

  it("after the answer, undo brings back how it was here", () => {
    const kind = draftKind(start);
    const own = withStep(withStep(workOf(draft(1, [])), by(1), start), by(2), start);
    const base = workOf(draft(5, [by(9)]));
    for (const choice of ["theirs", "both"] as const) {
      const after = kind.replaced(own, kind.chosen(base, kind.copyOf(own), choice));
      expect(amounts(undone(after))).toEqual([1, 2]);
      expect(undone(after)).toMatchObject({ revision: 5, dirty: true });
    }
  });

  it("asks too where the same step is on here and off there", () => {
    expect(meeting(workOf(draft(5, [by(1), by(2)], 2, [0])), mine([by(1), by(2)]), start)).toBeNull();
  });
});
