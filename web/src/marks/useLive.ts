// Live changes of a board, while the page is visible.
import { useEffect, useEffectEvent, useState } from "react";
import type { ChangedCells } from "../api/types";

const AGAIN_MS = 3000;
const OPEN_MS = 1000;

/** A promise that is kept once, from outside. */
class Once {
  kept = false;
  keep = () => {};
  readonly promise = new Promise<void>((keep) => {
    this.keep = () => {
      this.kept = true;
      keep();
    };
  });
}

type Live = {
  /** Whether the connection is open. */
  live: boolean;
  /** Wait for the connection, for a second at most: a board that is loaded after it misses no change. */
  opened: () => Promise<void>;
};

/** again: the whole board must be loaded again; cells: some cells changed. */
export function useLive(class_: number, again: () => void, cells: (changed: ChangedCells) => void): Live {
  const [live, setLive] = useState(false);
  const [first] = useState(() => new Once());
  const onAgain = useEffectEvent(again);
  const onCells = useEffectEvent(cells);
  useEffect(() => {
    let source: EventSource | null = null;
    let timer = 0;
    const wait = window.setTimeout(first.keep, OPEN_MS);
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
        if (first.kept) onAgain(); // it includes whatever changed while the page was hidden
        first.keep();
      });
      source.addEventListener("cells", (event) => onCells(JSON.parse(event.data) as ChangedCells));
      source.addEventListener("error", () => {
        setLive(false);
        first.keep();
        // The browser opens a lost connection again, but not a refused one.
        if (source?.readyState === EventSource.CLOSED) timer = window.setTimeout(open, AGAIN_MS);
      });
    };
    open();
    document.addEventListener("visibilitychange", open);
    return () => {
      document.removeEventListener("visibilitychange", open);
      window.clearTimeout(wait);
      first.keep();
      close();
    };
  }, [class_, first]);
  return { live, opened: () => first.promise };
}
