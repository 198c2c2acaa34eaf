// The scene in numbers as the core tells it: of the work as it stands, of an earlier step, or of the drag under way.
import { useEffect, useMemo, useRef, useState } from "react";
import { api } from "../api/client";
import type { SceneState, WorkBody } from "../api/types";
import { listOf } from "./draft";
import { useBench } from "./store";
import type { DraftControl } from "./useDraft";

const AT_MOST_EVERY_MS = 67; // fifteen times a second

export function useLook(assignment: number, draft: DraftControl): SceneState {
  const looking = useBench((state) => state.looking);
  const drag = useBench((state) => state.drag);
  const { entries, cursor, state } = draft.work;
  const wanted = useMemo((): WorkBody | null => {
    if (drag) {
      const { steps, off } = listOf(entries.slice(0, cursor));
      return { steps: [...steps, drag.step], off, cursor: steps.length + 1 };
    }
    if (looking === null) return null;
    return { ...listOf(entries.slice(0, looking)), cursor: looking };
  }, [drag, looking, entries, cursor]);
  const [found, setFound] = useState<{ asked: WorkBody; state: SceneState } | null>(null);
  const latest = useRef(wanted);
  latest.current = wanted;
  const busy = useRef(false);

  useEffect(() => {
    if (!wanted || busy.current) return;
    const ask = async () => {
      busy.current = true;
      let asked: WorkBody | null = null;
      while (latest.current && latest.current !== asked) {
        asked = latest.current;
        const began = performance.now();
        try {
          const answer = await api.look(assignment, asked);
          setFound({ asked, state: answer.state });
        } catch {
          break; // the mark beside the title already says that the server does not answer
        }
        await new Promise((done) => setTimeout(done, AT_MOST_EVERY_MS - (performance.now() - began)));
      }
      busy.current = false;
    };
    void ask();
  }, [wanted, assignment]);

  return wanted && found ? found.state : state;
}
