// The scene in numbers, from the core: of the work as it stands, of an earlier step, or of the drag under way.
import { useDeferredValue, useEffect, useMemo, useState } from "react";
import type { DraftSteps, SceneState } from "../api/types";
import { type Drag, dragOf, useBench } from "../state/store";
import { useNewest } from "../ui/useNewest";
import { type Entry, listOf, type Work } from "./draft";

const AT_MOST_EVERY_MS = 67; // fifteen times a second

/** What the core says of the scene after a list of steps that is only looked at. */
export type AskLook = (list: DraftSteps, signal?: AbortSignal) => Promise<SceneState>;

type ReviewedSubmission = Drag | number | null;

export function useLook(ask: AskLook, work: Work): SceneState {
  const { entries, cursor, matches, state } = work;
  const at = useLookedAt();
  const list = useMemo(
    () => (at === null ? null : { ...listAt(entries, cursor, at), matches }),
    [entries, cursor, matches, at],
  );
  const { answer } = useNewest(list, ask);
  const found = useDeferredValue(answer); // the drag itself comes first
  return (at !== null && found) || state;
}

/** What is looked at, sampled: a drag changes with every frame. */
function useLookedAt(): ReviewedSubmission {
  const [at, setAt] = useState<ReviewedSubmission>(null);
  useEffect(() => {
    let timer: number | undefined;
    const take = () => {
      timer = undefined;
      const view = useBench.getState();
      setAt(dragOf(view) ?? view.looking);
    };
    const stop = useBench.subscribe((view, before) => {
      if (dragOf(view) === dragOf(before) && view.looking === before.looking) return;
      if (dragOf(view) === null)
        take(); // the end of a drag, or another step
      else timer ??= window.setTimeout(take, AT_MOST_EVERY_MS);
    });
    return () => {
      stop();
      window.clearTimeout(timer);
    };
  }, []);
  return at;
}

/** The list that is looked at: with the step of the drag at its end, or as far as an earlier step. */
function listAt(entries: readonly Entry[], cursor: number, at: Drag | number): DraftSteps {
  if (typeof at === "number") return { ...listOf(entries.slice(0, at)), cursor: at };
  const { steps, off } = listOf(entries.slice(0, cursor));
  return { steps: [...steps, at.step], off, cursor: steps.length + 1 };
}
