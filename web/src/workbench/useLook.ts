// The scene in numbers as the core tells it: of the work as it stands, of an earlier step, or of the drag under way.
import { startTransition, useEffect, useRef, useState } from "react";
import type { DraftSteps, SceneState } from "../api/types";
import { type Drag, dragOf, useBench } from "../state/store";
import { type Entry, listOf, type Work } from "./draft";

const AT_MOST_EVERY_MS = 67; // fifteen times a second

/** What the core says of the scene after a list of steps that is only looked at. */
export type AskLook = (list: DraftSteps) => Promise<SceneState>;

export function useLook(ask: AskLook, work: Work): SceneState {
  const { entries, cursor, matches, state } = work;
  const [found, setFound] = useState<SceneState | null>(null);
  const away = useBench((view) => dragOf(view) !== null || view.looking !== null);
  const busy = useRef(false);

  useEffect(() => {
    let gone = false;
    const look = async () => {
      if (busy.current) return;
      busy.current = true;
      let asked: unknown = null;
      for (;;) {
        const { looking } = useBench.getState();
        const drag = dragOf(useBench.getState());
        const wanted = drag ?? looking;
        if (gone || wanted === null || wanted === asked) break;
        asked = wanted;
        const began = performance.now();
        try {
          const told = await ask({ ...bodyOf(entries, cursor, drag, looking), matches });
          startTransition(() => setFound(told)); // the drag itself comes first
        } catch {
          break; // the mark beside the title already says that the server does not answer
        }
        await new Promise((done) => setTimeout(done, AT_MOST_EVERY_MS - (performance.now() - began)));
      }
      busy.current = false;
    };
    void look();
    const stop = useBench.subscribe(() => void look());
    return () => {
      gone = true;
      stop();
    };
  }, [ask, entries, cursor, matches]);

  return away && found ? found : state;
}

/** The list that is looked at: with the step of the drag at its end, or as far as an earlier step. */
function bodyOf(
  entries: readonly Entry[],
  cursor: number,
  drag: Drag | null,
  looking: number | null,
): DraftSteps {
  if (!drag) return { ...listOf(entries.slice(0, looking ?? cursor)), cursor: looking ?? cursor };
  const { steps, off } = listOf(entries.slice(0, cursor));
  return { steps: [...steps, drag.step], off, cursor: steps.length + 1 };
}
