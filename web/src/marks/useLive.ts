// Live changes of a board, while the page is visible.
import { useEffect, useEffectEvent, useState } from "react";
import type { ChangedCells } from "../api/types";

const AGAIN_MS = 3000;

/** again: the whole board must be loaded; cells: some cells changed. Returns whether the connection is open. */
export function useLive(class_: number, again: () => void, cells: (changed: ChangedCells) => void): boolean {
  const [live, setLive] = useState(false);
  const onAgain = useEffectEvent(again);
  const onCells = useEffectEvent(cells);
  useEffect(() => {
    let source: EventSource | null = null;
    let timer = 0;
    const close = () => {
      window.clearTimeout(timer);
      source?.close();
      source = null;
      setLive(false);
    };
    const open = () => {
      close();
      if (document.hidden) return;
      source = new EventSource(`/api/classes/${class_}/live`);
      source.addEventListener("again", () => {
        setLive(true);
        onAgain(); // it includes whatever changed while the page was hidden
      });
      source.addEventListener("cells", (event) => onCells(JSON.parse(event.data) as ChangedCells));
      source.addEventListener("error", () => {
        setLive(false);
        // The browser opens a lost connection again, but not a refused one.
        if (source?.readyState === EventSource.CLOSED) timer = window.setTimeout(open, AGAIN_MS);
      });
    };
    open();
    document.addEventListener("visibilitychange", open);
    return () => {
      document.removeEventListener("visibilitychange", open);
      close();
    };
  }, [class_]);
  return live;
}
