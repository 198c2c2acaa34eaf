// What changes on a board is told as it happens, as long as the page is in sight; in the background it costs nothing.
import { useEffect, useRef, useState } from "react";
import type { ChangedCells } from "../api/types";

const AGAIN_MS = 3000;

/** again: the whole board is to be asked for; cells: some changed. Returns whether changes are being told. */
export function useLive(class_: number, again: () => void, cells: (changed: ChangedCells) => void): boolean {
  const [live, setLive] = useState(false);
  const told = useRef({ again, cells });
  told.current = { again, cells };
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
        told.current.again(); // whatever happened while nothing was told is in it
      });
      source.addEventListener("cells", (event) => told.current.cells(JSON.parse(event.data) as ChangedCells));
      source.addEventListener("error", () => {
        setLive(false);
        // A lost connection is taken up again by the browser; one that was refused by nobody but this.
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
