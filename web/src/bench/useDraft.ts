// The work on the bench: every change is saved at once by the saver; what the core answers is what is shown.
import { useCallback, useMemo, useState } from "react";
import { api, type Problem } from "../api/client";
import type { Asked, Bench, Draft, Step, WorkBody } from "../api/types";
import { placeOf } from "../saving/copies";
import { useSaver } from "../saving/useSaver";
import type { Directions } from "../view3d/camera";
import {
  boxesOf,
  type Choices,
  draftKind,
  type Entry,
  knownOf,
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

export function useDraft(bench: Bench, person: string) {
  const { assignment, exercise } = bench;
  const [first] = useState(() => workOf(bench.draft));
  const kind = useMemo(() => draftKind(exercise), [exercise]);
  const {
    doc: work,
    change,
    ...saver
  } = useSaver<Work, Unsaved, Draft>({
    kind,
    first,
    place: placeOf("draft", person, assignment),
    person,
    send: (now) => api.saveDraft(assignment, { ...unsavedOf(now), known: knownOf(now) }),
    newerIn: ({ body }) => (body.newer ? Promise.resolve(body.newer) : null),
    mendOf,
  });
  const setting = useMemo(
    () => settingAfter(exercise, work.entries, work.cursor, boxesOf(work.state)),
    [exercise, work.entries, work.cursor, work.state],
  );
  return {
    ...saver,
    work,
    setting,
    refusal: saver.trouble?.kind === "refused" || saver.trouble?.kind === "fault" ? saver.trouble.text : null,
    add: useCallback((step: Step) => change((now) => withStep(now, step, exercise)), [change, exercise]),
    /** Another list of steps in the place of this one. */
    edit: useCallback(
      (entries: readonly Entry[]) => change((now) => withEntries(now, entries, exercise)),
      [change, exercise],
    ),
    match: useCallback((matches: Choices) => change((now) => withMatches(now, matches)), [change]),
    undo: useCallback(() => change(undone), [change]),
    redo: useCallback(() => change(redone), [change]),
    preview: useCallback((list: WorkBody) => api.preview(assignment, list), [assignment]),
    say: useCallback(
      (line: string, { right, up }: Directions, list: WorkBody) =>
        api.say(assignment, { ...list, line, view: { right: [...right], up: [...up] } }),
      [assignment],
    ),
    measures: useCallback(
      async (list: WorkBody, asked: readonly Asked[]) =>
        (await api.measures(assignment, { ...list, asked: [...asked] })).measured,
      [assignment],
    ),
    text: useCallback(async (list: WorkBody) => (await api.text(assignment, list)).text, [assignment]),
    lines: useCallback(async (text: string) => (await api.lines(assignment, text)).lines, [assignment]),
    look: useCallback(async (list: WorkBody) => (await api.look(assignment, list)).state, [assignment]),
  };
}

export type DraftControl = ReturnType<typeof useDraft>;

/** A step that the core refuses is taken away again. */
function mendOf({ body }: Problem): ((work: Work) => Work) | null {
  const { status, step } = body;
  return status === 422 && step ? (work) => withoutRefused(work, step) : null;
}
