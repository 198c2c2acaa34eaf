// Steps in the making, a student's or an author's: every change is saved at once by the saver; what the core answers is what is shown.
import { useCallback, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Desk, Problem } from "../api/client";
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
  desk: Desk;
  exercise: Exercise;
  /** As the server told it last: once more when what the steps are done on was changed. */
  draft: Draft;
  person: string;
  /** Where the browser keeps copies of it; see `placeOf`. */
  place: string;
  viewOnly?: boolean;
};

const VIEW_ONLY = "You can only view this plan.";

export function useDraft({ desk, exercise, draft, person, place, viewOnly = false }: Parts) {
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
    send: (now) => desk.save({ ...unsavedOf(now), known: knownOf(now) }),
    newerIn: ({ body }) => (body.newer ? Promise.resolve(body.newer) : null),
    mendOf,
  });
  const { meet } = saver;
  const told = useRef(draft);
  useLayoutEffect(() => {
    if (told.current === draft) return;
    told.current = draft;
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
    preview: desk.preview,
    say: useCallback(
      (line: string, { right, up }: Directions, list: DraftSteps) =>
        desk.say({ ...list, line, view: { right: [...right], up: [...up] } }),
      [desk],
    ),
    measures: useCallback(
      async (list: DraftSteps, asked: readonly Asked[]) =>
        (await desk.measures({ ...list, asked: [...asked] })).measured,
      [desk],
    ),
    text: useCallback(async (list: DraftSteps) => (await desk.text(list)).text, [desk]),
    lines: useCallback(async (text: string) => (await desk.lines(text)).lines, [desk]),
    look: useCallback(async (list: DraftSteps) => (await desk.look(list)).state, [desk]),
  };
}

export type DraftControl = ReturnType<typeof useDraft>;

/** A step that the core refuses is taken away again. */
function mendOf({ body }: Problem): ((work: Work) => Work) | null {
  const { status, step } = body;
  return status === 422 && step ? (work) => withoutRefused(work, step) : null;
}
