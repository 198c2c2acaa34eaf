// A student's work as a value: steps, cursor, and what of them the core has answered. Pure: the saving is elsewhere.
import type { Box, Draft, DraftSteps, Exercise, Poses, SceneState, Step, StepView } from "../api/types";
import type { Kind } from "../saving/saver";
import { previewStep } from "../steps/preview";
import type { Setting } from "../steps/setting";
import { nth } from "../ui/lists";
import type { Vec3 } from "../view3d/matrices";
import { objectsAfter } from "../view3d/objects";

/** A step as it is shown: the core's answer once it is there, a preview until then. */
export type Entry = {
  step: Step;
  on: boolean;
  sentence: string | null;
  changed: Poses;
  objects: StepView["objects"];
  gone: readonly string[];
  marker: Vec3 | null;
  skewed: readonly string[];
  answered: boolean;
};

type Document = Pick<Work, "entries" | "cursor" | "matches">;

/** What undo takes back: a step that was made, or an edit of the list, with what the list was. */
type Action = { kind: "step" } | ({ kind: "edit" } & Document);

export type Work = {
  revision: number;
  entries: readonly Entry[];
  cursor: number;
  /** What was added for which object of the target, as chosen by hand. */
  matches: Choices;
  /** The scene at the cursor in numbers, as the core last told. */
  state: SceneState;
  refused: Draft["refused"];
  savedAt: string;
  /** Whether something is here that the server has not acknowledged. */
  dirty: boolean;
  past: readonly Action[];
  future: readonly Action[];
};

/** A draft that the server has not acknowledged, and the revision that it was made on. The browser keeps it until then. */
export type Unsaved = DraftSteps & { revision: number };

export type Choices = Readonly<NonNullable<DraftSteps["matches"]>>;

/** The scene that an exercise starts with. */
export type Start = Pick<Exercise, "objects" | "start" | "marker" | "conventions">;

export function workOf(draft: Draft, before: readonly Entry[] = []): Work {
  const rest = draft.rest.map(({ step, on }) => entryOf(step, on));
  return {
    revision: draft.revision,
    entries: [...before.slice(0, draft.first), ...draft.steps.map(answeredEntry), ...rest],
    cursor: draft.cursor,
    matches: draft.matches,
    state: draft.state,
    refused: draft.refused,
    savedAt: draft.saved_at,
    dirty: false,
    past: [],
    future: [],
  };
}

/** The scene after the first `count` steps: what there is, where it is, and where the marker is. */
export function settingAfter(
  start: Start,
  entries: readonly Entry[],
  count: number,
  boxes: Setting["boxes"],
): Setting {
  let setting: Setting = {
    objects: start.objects,
    poses: start.start,
    marker: start.marker,
    conventions: start.conventions,
    boxes,
  };
  for (const entry of entries.slice(0, count)) setting = settingAfterEntry(setting, entry);
  return setting;
}

function settingAfterEntry(setting: Setting, entry: Entry): Setting {
  return {
    ...setting,
    objects: objectsAfter(setting.objects, entry),
    poses: { ...setting.poses, ...entry.changed },
    marker: entry.marker ?? setting.marker,
  };
}

/** Boxes in the world at the cursor, as the core told them. */
export function boxesOf(state: SceneState): Readonly<Record<string, Box | null>> {
  return Object.fromEntries(Object.entries(state.readings).map(([id, reading]) => [id, reading.world_box]));
}

/** The work with one more step after the cursor; what was undone before is dropped. */
export function withStep(work: Work, step: Step, start: Start): Work {
  const kept = work.entries.slice(0, work.cursor);
  const setting = settingAfter(start, kept, kept.length, boxesOf(work.state));
  const entries = [...kept, previewed(entryOf(step, true), setting)];
  return {
    ...work,
    entries,
    cursor: entries.length,
    dirty: true,
    past: [...work.past, { kind: "step" }],
    future: [],
  };
}

/** The work with another list of steps: from the first difference on, everything is shown as a preview until answered. */
export function withEntries(work: Work, entries: readonly Entry[], start: Start): Work {
  const past = editOf(work);
  const shown = previewedFrom(work.entries, entries, start, boxesOf(work.state));
  return {
    ...work,
    entries: shown,
    cursor: shown.length,
    dirty: true,
    past: [...work.past, past],
    future: [],
  };
}

function previewedFrom(
  before: readonly Entry[],
  after: readonly Entry[],
  start: Start,
  boxes: Setting["boxes"],
): Entry[] {
  const first = after.findIndex((entry, i) => entry !== before[i]);
  if (first === -1) return [...after];
  const shown = after.slice(0, first);
  let setting = settingAfter(start, shown, first, boxes);
  for (const entry of after.slice(first)) {
    const next = previewed({ ...entry, answered: false, sentence: null }, setting);
    shown.push(next);
    setting = settingAfterEntry(setting, next);
  }
  return shown;
}

/** The work with something else chosen by hand for what was added. */
export function withMatches(work: Work, matches: Choices): Work {
  return { ...work, matches, dirty: true, past: [...work.past, editOf(work)], future: [] };
}

function editOf({ entries, cursor, matches }: Work): Action {
  return { kind: "edit", entries, cursor, matches };
}

/** One step back: the last edit of the list taken back, or the last step undone. */
export function undone(work: Work): Work {
  const action = work.past.at(-1) ?? (work.cursor > 0 ? ({ kind: "step" } as const) : null);
  if (!action) return work;
  const [next, opposite] = taken(work, action, -1);
  return { ...work, ...next, dirty: true, past: work.past.slice(0, -1), future: [...work.future, opposite] };
}

/** One step forward again. */
export function redone(work: Work): Work {
  const action =
    work.future.at(-1) ?? (work.cursor < work.entries.length ? ({ kind: "step" } as const) : null);
  if (!action) return work;
  const [next, opposite] = taken(work, action, 1);
  return { ...work, ...next, dirty: true, future: work.future.slice(0, -1), past: [...work.past, opposite] };
}

export function canUndo(work: Work): boolean {
  return undone(work) !== work;
}

export function canRedo(work: Work): boolean {
  return redone(work) !== work;
}

/** The work after what its steps are done on has changed: lists that undo brings back are answered anew. */
export function onOtherGround(work: Work): Work {
  const asked = (action: Action): Action =>
    action.kind === "edit"
      ? { ...action, entries: action.entries.map((entry) => ({ ...entry, answered: false })) }
      : action;
  return { ...work, past: work.past.map(asked), future: work.future.map(asked) };
}

function taken(work: Work, action: Action, way: 1 | -1): [Document, Action] {
  if (action.kind === "step") {
    const cursor = Math.max(0, Math.min(work.cursor + way, work.entries.length));
    return [{ entries: work.entries, cursor, matches: work.matches }, action];
  }
  const { entries, cursor, matches } = action;
  return [{ entries, cursor, matches }, editOf(work)];
}

/** The core's answer to what was sent; steps made since then stay as they are. */
export function withAnswer(work: Work, sent: Work, draft: Draft): Work {
  const answered = workOf(draft, sent.entries);
  const history = { past: work.past, future: work.future };
  const same = work.entries === sent.entries && work.cursor === sent.cursor && work.matches === sent.matches;
  if (same) return { ...answered, ...history };
  const entries = work.entries.map((entry, i) =>
    entry === sent.entries[i] && answered.entries[i] ? answered.entries[i] : entry,
  );
  const { revision, state, refused, savedAt } = answered;
  return { ...work, entries, revision, state, refused, savedAt, dirty: true };
}

/** The work without the step that the core refused, or without the edit that made it impossible; step counts from 1. */
export function withoutRefused(work: Work, step: number): Work {
  if (work.past.at(-1)?.kind === "edit") return { ...undone(work), future: [] };
  const entries = work.entries.slice(0, step - 1);
  const dirty = work.entries.length !== entries.length;
  return {
    ...work,
    entries,
    cursor: Math.min(work.cursor, entries.length),
    dirty,
    past: work.past.slice(0, -1),
  };
}

/** A state of the work, with other work put in its place, to be saved. */
export function rebased(base: Work, mine: Omit<Unsaved, "revision">, start: Start): Work {
  const own = mine.steps.map((step, i) => entryOf(step, !mine.off.includes(i)));
  const shared = sharedLength(base.entries, own);
  const entries = previewedFrom(
    base.entries,
    [...base.entries.slice(0, shared), ...own.slice(shared)],
    start,
    boxesOf(base.state),
  );
  const matches = { ...base.matches, ...mine.matches };
  const changed =
    shared < own.length ||
    shared < base.entries.length ||
    mine.cursor !== base.cursor ||
    canonical(matches) !== canonical(base.matches);
  return { ...base, entries, cursor: mine.cursor, matches, dirty: base.dirty || changed };
}

/**
 * Unsaved work meets another state of it. Settled without a question where nothing can be lost: both hold the same
 * steps, or one only goes on from the other; `null` where it has to be asked.
 */
export function meeting(base: Work, mine: Unsaved, start: Start): Work | null {
  const own = mine.steps.map((step, i) => entryOf(step, !mine.off.includes(i)));
  const shared = sharedLength(base.entries, own);
  // Unsaved work that was made on this very state says what is to become of it: what it lacks was removed there.
  if (mine.revision === base.revision && !base.dirty) return rebased(base, mine, start);
  if (shared === base.entries.length) return rebased(base, mine, start);
  if (shared < own.length) return null;
  return rebased(base, { ...unsavedOf(base), matches: { ...mine.matches, ...base.matches } }, start);
}

/** Both windows' steps: the other one's, then those that this one has beyond what they have in common. */
export function bothKept(base: Work, mine: Unsaved, start: Start): Work {
  const theirs = base.entries.slice(0, base.cursor);
  const own = mine.steps.map((step, i) => entryOf(step, !mine.off.includes(i))).slice(0, mine.cursor);
  const all = [...theirs, ...beyond(theirs, own)];
  return rebased(base, { ...listOf(all), cursor: all.length, matches: mine.matches ?? {} }, start);
}

/** What of a list another one has not, in its order: by the longest list that both have in common. */
function beyond(theirs: readonly Entry[], own: readonly Entry[]): Entry[] {
  const common = Array.from({ length: theirs.length + 1 }, () => new Array<number>(own.length + 1).fill(0));
  for (let i = theirs.length - 1; i >= 0; i--)
    for (let j = own.length - 1; j >= 0; j--)
      nth(common, i)[j] = sameEntry(nth(theirs, i), nth(own, j))
        ? nth(nth(common, i + 1), j + 1) + 1
        : Math.max(nth(nth(common, i + 1), j), nth(nth(common, i), j + 1));
  const left: Entry[] = [];
  for (let i = 0, j = 0; j < own.length; j++) {
    while (i < theirs.length && nth(common, i)[j] === nth(common, i + 1)[j]) i++;
    if (i < theirs.length && sameEntry(nth(theirs, i), nth(own, j))) i++;
    else left.push(nth(own, j));
  }
  return left;
}

/** How the saver deals with the work on the bench. */
export function draftKind(start: Start): Kind<Work, Unsaved, Draft> {
  return {
    pauseMs: 0,
    dirty: (work) => work.dirty,
    copyOf: unsavedOf,
    opened: (draft) => workOf(draft),
    acknowledged: (work, sent, draft) => withAnswer(work, sent, draft),
    meet: (base, mine) => meeting(base, mine, start),
    chosen: (base, mine, choice) =>
      choice === "theirs"
        ? base
        : choice === "mine"
          ? rebased(base, mine, start)
          : bothKept(base, mine, start),
    replaced: (before, after) => {
      if (
        sharedLength(before.entries, after.entries) === Math.max(before.entries.length, after.entries.length)
      )
        return { ...after, past: before.past, future: before.future };
      return { ...after, past: [...before.past, editOf(before)], future: [] };
    },
  };
}

export function unsavedOf(work: Work): Unsaved {
  const { revision, cursor, matches } = work;
  return { revision, ...listOf(work.entries), cursor, matches };
}

/** How many leading steps the core has answered: the server need not say them again. */
export function knownOf(work: Work): number {
  const first = work.entries.findIndex((entry) => !entry.answered);
  return first === -1 ? work.entries.length : first;
}

/** The steps that count, with places of those switched off: what is asked of the core for a look. */
export function listOf(entries: readonly Entry[]): { steps: Step[]; off: number[] } {
  return {
    steps: entries.map((entry) => entry.step),
    off: entries.flatMap((entry, i) => (entry.on ? [] : [i])),
  };
}

export function entryOf(step: Step, on: boolean): Entry {
  return {
    step,
    on,
    sentence: null,
    changed: {},
    objects: [],
    gone: [],
    marker: null,
    skewed: [],
    answered: false,
  };
}

function answeredEntry({ step, on, sentence, changed, objects, gone, marker, skewed }: StepView): Entry {
  return { step, on, sentence, changed, objects, gone, marker, skewed, answered: true };
}

function previewed(entry: Entry, setting: Setting): Entry {
  const changed = (entry.on && previewStep(entry.step, setting)) || {};
  return { ...entry, changed };
}

function sharedLength(a: readonly Entry[], b: readonly Entry[]): number {
  const different = a.findIndex((entry, i) => b[i] === undefined || !sameEntry(entry, b[i]));
  return different === -1 ? a.length : different;
}

/** Whether two steps say the same; a key with null says the same as no key. */
function sameEntry(a: Entry, b: Entry): boolean {
  return a.on === b.on && sameStep(a.step, b.step);
}

export function sameStep(a: Step | null, b: Step | null): boolean {
  return canonical(a) === canonical(b);
}

function canonical(value: unknown): string {
  return JSON.stringify(value, (_, inner) =>
    inner !== null && typeof inner === "object" && !Array.isArray(inner)
      ? Object.fromEntries(
          Object.entries(inner)
            .filter(([, v]) => v !== null && v !== undefined)
            .sort(),
        )
      : inner,
  );
}
