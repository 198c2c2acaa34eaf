// The work on the bench and its way to the server: every change is saved at once, nothing is overwritten, and what
// the server has not acknowledged stays in the browser until it has.
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { api, Problem } from "../api/client";
import type { Bench, Draft, Step } from "../api/types";
import {
  bothKept,
  boxesOf,
  type Entry,
  knownOf,
  type Meeting,
  meeting,
  rebased,
  redone,
  type Start,
  settingAfter,
  undone,
  unsavedOf,
  type Work,
  withAnswer,
  withEntries,
  withoutRefused,
  withStep,
  workOf,
} from "./draft";
import { forgetUnsaved, keepUnsaved, readUnsaved } from "./unsaved";

export type Saving = "saved" | "saving" | "no connection" | "signed out";
export type Choice = "theirs" | "mine" | "both";

const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 8000;

export function useDraft(bench: Bench, person: string) {
  const { assignment, exercise } = bench;
  const [first] = useState(() => opened(bench, person, exercise));
  const [work, setWork] = useState(first.work);
  const [question, setQuestion] = useState<Extract<Meeting, { kind: "ask" }> | null>(first.question);
  const [saving, setSaving] = useState<Saving>("saved");
  const [refusal, setRefusal] = useState<string | null>(null);
  const [turn, setTurn] = useState(0); // counts the tries to save, so that one follows the other
  const busy = useRef(false);
  const wait = useRef(FIRST_WAIT_MS);
  const latest = useRef(work);
  latest.current = work;

  const meet = useCallback(
    (newer: Draft) => {
      const met = meeting(unsavedOf(latest.current), newer, exercise);
      if (met.kind === "settled") setWork(met.work);
      else setQuestion(met);
    },
    [exercise],
  );

  useEffect(() => {
    if (work.dirty) keepUnsaved(person, assignment, unsavedOf(work));
    else forgetUnsaved(person, assignment);
  }, [work, person, assignment]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a new turn is a new try
  useEffect(() => {
    if (!work.dirty || busy.current || question) return;
    busy.current = true;
    setSaving((now) => (now === "saved" ? "saving" : now));
    const next = (delayMs: number) => {
      window.setTimeout(() => {
        busy.current = false;
        setTurn((count) => count + 1);
      }, delayMs);
    };
    const later = (state: Saving) => {
      setSaving(state);
      next(wait.current);
      wait.current = Math.min(wait.current * 2, LONGEST_WAIT_MS);
    };
    const failed = async (error: unknown) => {
      if (!(error instanceof Problem)) return later("no connection");
      const { status, newer, step, detail } = error.body;
      if (newer) {
        meet(newer);
        return next(0);
      }
      if (status === 422 && step) {
        setRefusal(detail);
        setWork((now) => withoutRefused(now, step));
        return next(0);
      }
      if (status === 401 || status === 403) return later(await stillSignedIn(person));
      setRefusal(detail);
      return later("no connection");
    };
    api.saveDraft(assignment, { ...unsavedOf(work), known: knownOf(work) }).then((draft) => {
      wait.current = FIRST_WAIT_MS;
      setWork((now) => withAnswer(now, work, draft));
      next(0);
    }, failed);
  }, [work, turn, question, assignment, person, meet]);

  useEffect(() => {
    if (!work.dirty) setSaving("saved");
  }, [work.dirty]);

  const answer = (choice: Choice) => {
    if (!question) return;
    const { newer, mine } = question;
    if (choice === "theirs") setWork(workOf(newer));
    else if (choice === "mine") setWork(rebased(newer, mine, exercise));
    else setWork(bothKept(newer, mine, exercise));
    setQuestion(null);
  };

  const setting = useMemo(
    () => settingAfter(exercise, work.entries, work.cursor, boxesOf(work.state)),
    [exercise, work.entries, work.cursor, work.state],
  );
  const change = useCallback((next: (now: Work) => Work) => {
    setRefusal(null);
    setWork(next);
  }, []);

  return {
    work,
    setting,
    saving: work.dirty && saving === "saved" ? ("saving" as Saving) : saving,
    question,
    answer,
    refusal,
    meet,
    add: useCallback((step: Step) => change((now) => withStep(now, step, exercise)), [change, exercise]),
    /** Another list of steps in the place of this one. */
    edit: useCallback(
      (entries: readonly Entry[]) => change((now) => withEntries(now, entries, exercise)),
      [change, exercise],
    ),
    undo: useCallback(() => change(undone), [change]),
    redo: useCallback(() => change(redone), [change]),
  };
}

export type DraftControl = ReturnType<typeof useDraft>;

/** The server's draft, met with what an earlier visit could not save. */
function opened(bench: Bench, person: string, start: Start) {
  const unsaved = readUnsaved(person, bench.assignment);
  if (!unsaved) return { work: workOf(bench.draft), question: null };
  if (unsaved.revision === bench.draft.revision) {
    return { work: rebased(bench.draft, unsaved, start), question: null };
  }
  const met = meeting(unsaved, bench.draft, start);
  return met.kind === "settled"
    ? { work: met.work, question: null }
    : { work: workOf(bench.draft), question: met };
}

/** After a refusal: is it still the same person? Asking also renews the token that changes carry. */
async function stillSignedIn(person: string): Promise<Saving> {
  try {
    return (await api.who()).sign_in === person ? "saving" : "signed out";
  } catch {
    return "signed out";
  }
}
