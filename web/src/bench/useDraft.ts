// The work on the bench and its way to the server: every change is saved at once, nothing is overwritten, and what
// the server has not acknowledged stays in the browser until it has.
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { api, Problem } from "../api/client";
import type { Bench, Draft, Step } from "../api/types";
import {
  bothKept,
  type Meeting,
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
import { forgetUnsaved, keepUnsaved, readUnsaved } from "./unsaved";

export type Saving = "saved" | "saving" | "no connection" | "signed out";
export type Choice = "theirs" | "mine" | "both";

const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 8000;

export function useDraft(bench: Bench, person: string) {
  const { assignment, exercise } = bench;
  const scene = useMemo(
    (): Scene => ({ tree: exercise.objects, start: startPoses(bench) }),
    [bench, exercise],
  );
  const [first] = useState(() => opened(bench, person, scene));
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
      const met = meeting(unsavedOf(latest.current), newer, scene);
      if (met.kind === "settled") setWork(met.work);
      else setQuestion(met);
    },
    [scene],
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
    api.saveDraft(assignment, unsavedOf(work)).then((draft) => {
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
    else if (choice === "mine") setWork(rebased(newer, mine.steps, mine.cursor, scene));
    else setWork(bothKept(newer, mine, scene));
    setQuestion(null);
  };

  const poses = useMemo(
    () => posesAfter(scene, work.entries, work.cursor),
    [scene, work.entries, work.cursor],
  );

  return {
    work,
    poses,
    saving: work.dirty && saving === "saved" ? ("saving" as Saving) : saving,
    question,
    answer,
    refusal,
    meet,
    add: (step: Step) => {
      setRefusal(null);
      setWork((now) => withStep(now, step, scene));
    },
    goTo: (cursor: number) => setWork((now) => withCursor(now, cursor)),
  };
}

export type DraftControl = ReturnType<typeof useDraft>;

function startPoses(bench: Bench): Scene["start"] {
  return Object.fromEntries(bench.exercise.objects.map((item) => [item.id, item.start]));
}

/** The server's draft, met with what an earlier visit could not save. */
function opened(bench: Bench, person: string, scene: Scene) {
  const unsaved = readUnsaved(person, bench.assignment);
  if (!unsaved) return { work: workOf(bench.draft), question: null };
  if (unsaved.revision === bench.draft.revision) {
    return { work: rebased(bench.draft, unsaved.steps, unsaved.cursor, scene), question: null };
  }
  const met = meeting(unsaved, bench.draft, scene);
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
