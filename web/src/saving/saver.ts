// Work on its way to the server, as a state machine: one save at a time, tried again until it is acknowledged; what
// another window saved is met; where something could be lost, it asks. Pure: no clock, no network, no storage.

/** What the last try met. */
export type Trouble = { kind: "no connection" | "signed out" | "fault" | "refused"; text: string };
export type Choice = "theirs" | "mine" | "both";

/**
 * What the saver must know of a kind of work. Doc: the work as it stands in this window; Copy: what of it the browser
 * keeps until the server has it; Answer: what the server says of it.
 */
export type Kind<Doc, Copy, Answer> = {
  /** How long after a change it is sent. */
  pauseMs: number;
  /** Whether something is here that the server has not acknowledged. */
  dirty: (doc: Doc) => boolean;
  copyOf: (doc: Doc) => Copy;
  opened: (answer: Answer) => Doc;
  /** The server has `sent`; what was done since stays. */
  acknowledged: (doc: Doc, sent: Doc, answer: Answer) => Doc;
  /** A window's work on top of another state of it; `null` where that cannot be without losing something. */
  meet: (base: Doc, mine: Copy) => Doc | null;
  chosen: (base: Doc, mine: Copy, choice: Choice) => Doc;
  /** The work after it was replaced: what it was can be had again. */
  replaced: (before: Doc, after: Doc) => Doc;
};

export type Saver<Doc, Copy> = {
  doc: Doc;
  /** What is on its way, if anything is. */
  sent: Doc | null;
  failures: number;
  trouble: Trouble | null;
  /** Which is to stay: asked while nothing is sent. */
  question: { base: Doc; mine: Copy } | null;
  /** What other windows left behind, still to be met. */
  waiting: readonly Copy[];
};

export type Event<Doc, Copy, Answer> =
  | { is: "changed"; change: (doc: Doc) => Doc }
  | { is: "sent"; doc: Doc }
  | { is: "saved"; answer: Answer }
  | { is: "failed"; trouble: Trouble }
  | { is: "refused"; trouble: Trouble; mend: (doc: Doc) => Doc }
  | { is: "newer"; answer: Answer }
  | { is: "left behind"; copies: readonly Copy[] }
  | { is: "answered"; choice: Choice };

const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 8000;

export function saverOf<Doc, Copy>(doc: Doc): Saver<Doc, Copy> {
  return { doc, sent: null, failures: 0, trouble: null, question: null, waiting: [] };
}

export function after<Doc, Copy, Answer>(
  kind: Kind<Doc, Copy, Answer>,
  saver: Saver<Doc, Copy>,
  event: Event<Doc, Copy, Answer>,
): Saver<Doc, Copy> {
  // What came while something was on its way, or while it was asked, is met as soon as that is over.
  return nextWaiting(kind, afterEvent(kind, saver, event));
}

function afterEvent<Doc, Copy, Answer>(
  kind: Kind<Doc, Copy, Answer>,
  saver: Saver<Doc, Copy>,
  event: Event<Doc, Copy, Answer>,
): Saver<Doc, Copy> {
  switch (event.is) {
    case "changed":
      return { ...saver, doc: event.change(saver.doc), trouble: kept(saver.trouble) };
    case "sent":
      return { ...saver, sent: event.doc };
    case "saved":
      return {
        ...saver,
        doc: kind.acknowledged(saver.doc, saver.sent ?? saver.doc, event.answer),
        sent: null,
        failures: 0,
        trouble: saver.trouble?.kind === "refused" ? saver.trouble : null,
      };
    case "failed":
      return { ...saver, sent: null, failures: saver.failures + 1, trouble: event.trouble };
    case "refused":
      return { ...saver, sent: null, failures: 0, doc: event.mend(saver.doc), trouble: event.trouble };
    case "newer": {
      const base = kind.opened(event.answer);
      return met(kind, { ...saver, sent: null, failures: 0, trouble: null }, base, kind.copyOf(saver.doc));
    }
    case "left behind":
      return { ...saver, waiting: [...saver.waiting, ...event.copies] };
    case "answered": {
      if (!saver.question) return saver;
      const { base, mine } = saver.question;
      const doc = kind.replaced(saver.doc, kind.chosen(base, mine, event.choice));
      return { ...saver, doc, question: null };
    }
  }
}

/** A refusal stays in sight until it is answered by another change. */
function kept(trouble: Trouble | null): Trouble | null {
  return trouble?.kind === "refused" ? null : trouble;
}

function met<Doc, Copy, Answer>(
  kind: Kind<Doc, Copy, Answer>,
  saver: Saver<Doc, Copy>,
  base: Doc,
  mine: Copy,
): Saver<Doc, Copy> {
  const doc = kind.meet(base, mine);
  if (doc === null) return { ...saver, question: { base, mine } };
  return { ...saver, doc: kind.replaced(saver.doc, doc) };
}

function nextWaiting<Doc, Copy, Answer>(
  kind: Kind<Doc, Copy, Answer>,
  saver: Saver<Doc, Copy>,
): Saver<Doc, Copy> {
  const [copy, ...waiting] = saver.waiting;
  if (copy === undefined || saver.question || saver.sent) return saver;
  return nextWaiting(kind, met(kind, { ...saver, waiting }, saver.doc, copy));
}

/** What is to be done now: to send the work after a wait, or nothing. */
export function toDo<Doc, Copy, Answer>(
  kind: Kind<Doc, Copy, Answer>,
  saver: Saver<Doc, Copy>,
): { afterMs: number } | null {
  if (saver.sent || saver.question || !kind.dirty(saver.doc)) return null;
  const retry = Math.min(FIRST_WAIT_MS * 2 ** (saver.failures - 1), LONGEST_WAIT_MS);
  return { afterMs: saver.failures > 0 ? retry : kind.pauseMs };
}

export type Saving = "saved" | "saving" | Trouble["kind"];

/** How things stand, in one word. */
export function savingOf<Doc, Copy, Answer>(kind: Kind<Doc, Copy, Answer>, saver: Saver<Doc, Copy>): Saving {
  if (!kind.dirty(saver.doc)) return "saved";
  return saver.trouble && saver.trouble.kind !== "refused" ? saver.trouble.kind : "saving";
}
