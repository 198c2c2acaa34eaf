// Work that the server has not acknowledged, kept in the browser, a copy a window: it outlives a reload, a window that
// is closed, and a server that is down. What a window that is gone has left behind is found by the next one.

const PREFIX = "cube-drill:unsaved";
const LOCK = "cube-drill:window:";
const WINDOW = crypto.randomUUID?.() ?? Math.random().toString(36).slice(2);
const ALIVE = "cube-drill:alive:";
const ALIVE_MS = 90_000; // a window in the background is woken once a minute

// A lock lasts as long as its window; where there are none (no secure connection), a mark that is renewed must do.
const locks: LockManager | undefined = navigator.locks;
if (locks) void locks.request(LOCK + WINDOW, () => new Promise(() => {}));
else {
  const mark = () => localStorage.setItem(ALIVE + WINDOW, String(Date.now()));
  mark();
  window.setInterval(mark, 5000);
  window.addEventListener("pagehide", () => localStorage.removeItem(ALIVE + WINDOW));
  window.addEventListener("pageshow", mark);
}

async function living(): Promise<(id: string) => boolean> {
  if (locks) {
    const { held = [] } = await locks.query();
    const names = new Set(held.map((lock) => lock.name));
    return (id) => names.has(LOCK + id);
  }
  return (id) => Date.now() - Number(localStorage.getItem(ALIVE + id) ?? 0) < ALIVE_MS;
}

/** Where the copies of one piece of work stand: what it is, whose, and for which assignment. */
export function placeOf(what: string, person: string, assignment: number): string {
  return `${PREFIX}:${what}:${person}:${assignment}:`;
}

export function keepCopy(place: string, copy: unknown): void {
  localStorage.setItem(place + WINDOW, JSON.stringify(copy));
}

export function forgetCopies(keys: readonly string[]): void {
  for (const key of keys) localStorage.removeItem(key);
}

/** What this window itself left here, on another page of its own or before; `null` where there is nothing. */
export function ownCopy<Copy>(place: string): Copy | null {
  return read<Copy>(place + WINDOW);
}

function read<Copy>(key: string): Copy | null {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "null") as Copy | null;
  } catch {
    return null;
  }
}

export function forgetOwn(place: string): void {
  localStorage.removeItem(place + WINDOW);
}

/** The copies that windows left behind which are gone, the oldest key first. */
export async function leftBehind<Copy>(place: string): Promise<{ key: string; copy: Copy }[]> {
  const alive = await living();
  const keys = Object.keys(localStorage).filter((key) => key.startsWith(place));
  return keys
    .filter((key) => key !== place + WINDOW && !alive(key.slice(place.length)))
    .sort()
    .flatMap((key) => {
      const copy = read<Copy>(key);
      return copy === null ? [] : [{ key, copy }];
    });
}
