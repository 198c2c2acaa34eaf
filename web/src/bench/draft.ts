// A student's work as a value: steps, cursor, and what of them the core has answered. Pure: the saving is elsewhere.
import type { CheckResult, Draft, Pose, Poses, Step, StepView } from "../api/types";
import { previewStep, type Tree } from "./preview";

/** A step as it is shown: the core's answer once it is there, a preview until then. */
export type Entry = { step: Step; sentence: string | null; changed: Poses };

export type Work = {
  revision: number;
  entries: readonly Entry[];
  cursor: number;
  gaps: readonly CheckResult[];
  savedAt: string;
  /** Whether something is here that the server has not acknowledged. */
  dirty: boolean;
};

/** What the browser keeps until the server has it. */
export type Unsaved = { revision: number; steps: Step[]; cursor: number };

export type Scene = { tree: Tree; start: Poses };

export function workOf(draft: Draft): Work {
  const entries = draft.steps.map(entryOf);
  return {
    revision: draft.revision,
    entries,
    cursor: draft.cursor,
    gaps: draft.gaps,
    savedAt: draft.saved_at,
    dirty: false,
  };
}

/** Where everything is after the first `count` steps. */
export function posesAfter(scene: Scene, entries: readonly Entry[], count: number): Poses {
  return Object.assign({}, scene.start, ...entries.slice(0, count).map((entry) => entry.changed)) as Record<
    string,
    Pose
  >;
}

/** The work with one more step after the cursor; what was undone before is dropped. */
export function withStep(work: Work, step: Step, scene: Scene): Work {
  const kept = work.entries.slice(0, work.cursor);
  return {
    ...work,
    entries: [...kept, previewEntry(step, kept, scene)],
    cursor: work.cursor + 1,
    dirty: true,
  };
}

/** The work undone or redone to this many steps. */
export function withCursor(work: Work, cursor: number): Work {
  const within = Math.max(0, Math.min(cursor, work.entries.length));
  return within === work.cursor ? work : { ...work, cursor: within, dirty: true };
}

/** The core's answer to what was sent; steps made since then stay as they are. */
export function withAnswer(work: Work, sent: Work, draft: Draft): Work {
  const answered = workOf(draft);
  const untouched = work.entries === sent.entries && work.cursor === sent.cursor;
  if (untouched) return answered;
  const entries = work.entries.map((entry, i) =>
    entry === sent.entries[i] && answered.entries[i] ? answered.entries[i] : entry,
  );
  return { ...work, entries, revision: draft.revision, savedAt: draft.saved_at, dirty: true };
}

/** The work without the step that the core refused and what came after it; step counts from 1. */
export function withoutRefused(work: Work, step: number): Work {
  const entries = work.entries.slice(0, step - 1);
  return {
    ...work,
    entries,
    cursor: Math.min(work.cursor, entries.length),
    dirty: work.entries.length !== entries.length,
  };
}

/** The server's draft, with these steps put in its place or after it, to be saved. */
export function rebased(draft: Draft, steps: readonly Step[], cursor: number, scene: Scene): Work {
  const base = workOf(draft);
  const shared = sharedLength(
    draft.steps.map((view) => view.step),
    steps,
  );
  let entries: readonly Entry[] = base.entries.slice(0, shared);
  for (const step of steps.slice(shared)) entries = [...entries, previewEntry(step, entries, scene)];
  const dirty = shared < steps.length || shared < base.entries.length || cursor !== base.cursor;
  return { ...base, entries, cursor, dirty };
}

export type Meeting = { kind: "settled"; work: Work } | { kind: "ask"; newer: Draft; mine: Unsaved };

/**
 * This window's unsaved work meets a newer draft. Settled without a question where nothing can be lost: both hold the
 * same steps, or one only goes on from the other.
 */
export function meeting(mine: Unsaved, newer: Draft, scene: Scene): Meeting {
  const theirs = newer.steps.map((view) => view.step);
  const shared = sharedLength(theirs, mine.steps);
  if (shared === theirs.length)
    return { kind: "settled", work: rebased(newer, mine.steps, mine.cursor, scene) };
  if (shared === mine.steps.length) return { kind: "settled", work: workOf(newer) };
  return { kind: "ask", newer, mine };
}

/** Both windows' steps: the newer draft's, then those that this window has beyond what they share. */
export function bothKept(newer: Draft, mine: Unsaved, scene: Scene): Work {
  const theirs = newer.steps.slice(0, newer.cursor).map((view) => view.step);
  const own = mine.steps.slice(sharedLength(theirs, mine.steps), mine.cursor);
  const steps = [...theirs, ...own];
  return rebased(newer, steps, steps.length, scene);
}

export function unsavedOf(work: Work): Unsaved {
  return { revision: work.revision, steps: work.entries.map((entry) => entry.step), cursor: work.cursor };
}

function entryOf(view: StepView): Entry {
  return { step: view.step, sentence: view.sentence, changed: view.changed };
}

function previewEntry(step: Step, before: readonly Entry[], scene: Scene): Entry {
  const changed = previewStep(step, posesAfter(scene, before, before.length), scene.tree) ?? {};
  return { step, sentence: null, changed };
}

function sharedLength(a: readonly Step[], b: readonly Step[]): number {
  const different = a.findIndex((step, i) => b[i] === undefined || !sameStep(step, b[i]));
  return different === -1 ? a.length : different;
}

/** Whether two steps say the same; a key with null says the same as no key. */
function sameStep(a: Step, b: Step): boolean {
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
