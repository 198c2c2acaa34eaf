// Steps in progress, a student's or an author's: every change is saved at once by the saver; what the core answers is what is shown.
import { useCallback, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Problem, StepEditing } from "../api/client";
import type { Asked, Draft, DraftSteps, Exercise, Step } from "../api/types";
import { useSaver } from "../saving/useSaver";
import type { Directions } from "../view3d/camera";
import {
  boxesOf,
  type Choices,
  draftKind,
  type Entry,
  knownOf,
  onOtherGround,
  redone,
  settingAfter,
  type Unsaved,
  undone,
  unsavedOf,
  type Work,
  withEntries,
  withMatches,
  withoutRefused,
  withStep,
  workOf,
} from "../workbench/draft";

type Parts = {
  editor: StepEditing;
  exercise: Exercise;
  /** The newest answer of the server; it answers again when the start scene was changed. */
  draft: Draft;
  person: string;
  /** Where the browser keeps copies of it; see `placeOf`. */
  place: string;
  viewOnly?: boolean;
};

const VIEW_ONLY = "You can only view this plan.";

export function useDraft({ editor, exercise, draft, person, place, viewOnly = false }: Parts) {
  const [first] = useState(() => workOf(draft));
  const kind = useMemo(() => draftKind(exercise), [exercise]);
  const {
    doc: work,
    change,
    ...saver
  } = useSaver<Work, Unsaved, Draft>({
    kind,
    first,
    place,
    person,
    viewOnly,
    send: (now) => editor.save({ ...unsavedOf(now), known: knownOf(now) }),
    newerIn: ({ body }) => (body.newer ? Promise.resolve(body.newer) : null),
    mendOf,
  });
  const { meet } = saver;
  const lastSeen = useRef(draft);
  useLayoutEffect(() => {
    if (lastSeen.current === draft) return;
    lastSeen.current = draft;
    meet(draft);
    change(onOtherGround);
  }, [draft, meet, change]);
  const setting = useMemo(
    () => settingAfter(exercise, work.entries, work.cursor, boxesOf(work.state)),
    [exercise, work.entries, work.cursor, work.state],
  );
  return {
    ...saver,
    work,
    setting,
    refusal: viewOnly
      ? VIEW_ONLY
      : saver.trouble?.kind === "refused" || saver.trouble?.kind === "fault"
        ? saver.trouble.text
        : null,
    add: useCallback((step: Step) => change((now) => withStep(now, step, exercise)), [change, exercise]),
    /** Another list of steps in the place of this one. */
    edit: useCallback(
      (entries: readonly Entry[]) => change((now) => withEntries(now, entries, exercise)),
      [change, exercise],
    ),
    match: useCallback((matches: Choices) => change((now) => withMatches(now, matches)), [change]),
    undo: useCallback(() => change(undone), [change]),
    redo: useCallback(() => change(redone), [change]),
    preview: editor.preview,
    say: useCallback(
      (line: string, { right, up }: Directions, list: DraftSteps, signal?: AbortSignal) =>
        editor.say({ ...list, line, view: { right: [...right], up: [...up] } }, signal),
      [editor],
    ),
    measures: useCallback(
      async (list: DraftSteps, asked: readonly Asked[], signal?: AbortSignal) =>
        (await editor.measures({ ...list, asked: [...asked] }, signal)).measured,
      [editor],
    ),
    text: useCallback(async (list: DraftSteps) => (await editor.text(list)).text, [editor]),
    lines: useCallback(async (text: string) => (await editor.lines(text)).lines, [editor]),
    look: useCallback(
      async (list: DraftSteps, signal?: AbortSignal) => (await editor.look(list, signal)).state,
      [editor],
    ),
  };
}

export type DraftControl = ReturnType<typeof useDraft>;

/** A step that the core refuses is removed again. */
function mendOf({ body }: Problem): ((work: Work) => Work) | null {
  const { status, step } = body;
  return status === 422 && step ? (work) => withoutRefused(work, step) : null;
}
