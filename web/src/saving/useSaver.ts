// The saver at work: it sends when there is something to send, keeps a copy in the browser until it is acknowledged,
// and takes up what a window that is gone has left behind.
import { useCallback, useEffect, useEffectEvent, useReducer, useRef } from "react";
import { api, NoConnection, Problem } from "../api/client";
import { forgetCopies, forgetOwn, keepCopy, leftBehind, ownCopy } from "./copies";
import {
  after,
  type Choice,
  type Event,
  type Kind,
  type Saver,
  saverOf,
  savingOf,
  type Trouble,
  toDo,
} from "./saver";

type Options<Doc, Copy, Answer> = {
  kind: Kind<Doc, Copy, Answer>;
  first: Doc;
  /** Where the browser keeps copies of this work; see `placeOf`. */
  place: string;
  person: string;
  /** Whether the person may only view it: then nothing is changed and nothing is sent. */
  viewOnly?: boolean;
  send: (doc: Doc) => Promise<Answer>;
  /** The newer state, where the server refused for there is one; else `null`. */
  newerIn: (error: Problem) => Promise<Answer> | null;
  /** How the work is mended of what the server refused; `null` where it cannot be. */
  mendOf: (error: Problem) => ((doc: Doc) => Doc) | null;
};

export function useSaver<Doc, Copy, Answer>(options: Options<Doc, Copy, Answer>) {
  const { kind, first, place, viewOnly = false } = options;
  const [saver, tell] = useReducer(
    (now: Saver<Doc, Copy>, event: Event<Doc, Copy, Answer>) => after(kind, now, event),
    first,
    (doc: Doc) => {
      const own = ownCopy<Copy>(place);
      const saver = saverOf<Doc, Copy>(doc);
      return own === null ? saver : after(kind, saver, { is: "left behind", copies: [own] });
    },
  );
  const dirty = kind.dirty(saver.doc);
  const task = toDo(kind, saver);
  const afterMs = task?.afterMs ?? null;

  const send = useEffectEvent(async () => {
    const { doc } = saver;
    tell({ is: "sent", doc });
    tell(await outcome(options, doc));
  });
  // While the server is well the wait begins anew with each change; after a failure it does not, or it would never end.
  const since = saver.failures > 0 ? saver.failures : saver.doc;
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above
  useEffect(() => {
    if (afterMs === null) return;
    const timer = window.setTimeout(send, afterMs);
    return () => window.clearTimeout(timer);
  }, [since, afterMs]);

  const taken = useRef<readonly string[]>([]);
  const settled = saver.waiting.length === 0 && saver.question === null;
  useEffect(() => {
    if (dirty) keepCopy(place, kind.copyOf(saver.doc));
    if (!settled) return; // what another window left stays until it is known what is to stay of it
    if (!dirty) forgetOwn(place);
    forgetCopies(taken.current);
    taken.current = [];
  }, [saver.doc, dirty, settled, place, kind]);

  useEffect(() => {
    let gone = false;
    void leftBehind<Copy>(place).then((found) => {
      if (gone || found.length === 0) return;
      taken.current = found.map(({ key }) => key);
      tell({ is: "left behind", copies: found.map(({ copy }) => copy) });
    });
    return () => {
      gone = true;
    };
  }, [place]);

  return {
    doc: saver.doc,
    dirty,
    saving: savingOf(kind, saver),
    trouble: saver.trouble,
    question: saver.question,
    change: useCallback(
      (change: (doc: Doc) => Doc) => {
        if (!viewOnly) tell({ is: "changed", change });
      },
      [viewOnly],
    ),
    meet: useCallback((answer: Answer) => tell({ is: "newer", answer }), []),
    answer: useCallback((choice: Choice) => tell({ is: "answered", choice }), []),
  };
}

async function outcome<Doc, Copy, Answer>(
  { send, newerIn, mendOf, person }: Options<Doc, Copy, Answer>,
  doc: Doc,
): Promise<Event<Doc, Copy, Answer>> {
  try {
    return { is: "saved", answer: await send(doc) };
  } catch (error) {
    if (!(error instanceof Problem)) return { is: "failed", trouble: troubleOf(error) };
    const newer = newerIn(error);
    if (newer)
      return newer.then(
        (answer) => ({ is: "newer", answer }),
        (again) => ({ is: "failed", trouble: troubleOf(again) }),
      );
    const mend = mendOf(error);
    const { status, detail } = error.body;
    if (mend) return { is: "refused", trouble: { kind: "refused", text: detail }, mend };
    if (status === 401 || status === 403) return { is: "failed", trouble: await whoIsHere(person, detail) };
    return { is: "failed", trouble: troubleOf(error) };
  }
}

/** What went wrong: nobody answered, or the server did and met a fault, or would not have it. */
function troubleOf(error: unknown): Trouble {
  const text = (error as Error).message;
  return { kind: error instanceof NoConnection ? "no connection" : "fault", text };
}

/** After a refusal: is it still the same person? Asking also renews the token that changes carry. */
async function whoIsHere(person: string, text: string): Promise<Trouble> {
  try {
    if ((await api.who()).sign_in === person) return { kind: "fault", text };
  } catch {
    // nobody is
  }
  return { kind: "signed out", text };
}
