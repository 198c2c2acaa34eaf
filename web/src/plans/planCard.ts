// What is said of a plan beside its steps, as the saver deals with it: part by part, so that two windows meet in peace. Pure.
import type { Card } from "../api/types";
import type { Kind } from "../saving/saver";

export type Key = keyof Card;
/** stretch: what goes on being changed; all of it is taken back at once. */
type Before = { card: Card; stretch: string | null };

/** base: what the server had at that revision. */
export type CardCopy = { revision: number; card: Card; base: Card };
export type CardWork = CardCopy & { past: readonly Before[]; future: readonly Before[] };
export type CardAnswer = { revision: number; card: Card };

/** Parts that are typed letter by letter. */
const TYPED: readonly Key[] = ["title", "brief", "notes"];

export function workOf({ revision, card }: CardAnswer): CardWork {
  return { revision, card, base: card, past: [], future: [] };
}

export function withPart<K extends Key>(
  work: CardWork,
  key: K,
  value: Card[K],
  stretch: string | null = TYPED.includes(key) ? key : null,
): CardWork {
  const same = stretch !== null && work.past.at(-1)?.stretch === stretch && work.future.length === 0;
  return {
    ...work,
    card: { ...work.card, [key]: value },
    past: same ? work.past : [...work.past, { card: work.card, stretch }],
    future: [],
  };
}

export function undone(work: CardWork): CardWork {
  const last = work.past.at(-1);
  if (!last) return work;
  const future = [...work.future, { card: work.card, stretch: last.stretch }];
  return { ...work, card: last.card, past: work.past.slice(0, -1), future };
}

export function redone(work: CardWork): CardWork {
  const next = work.future.at(-1);
  if (!next) return work;
  const past = [...work.past, { card: work.card, stretch: next.stretch }];
  return { ...work, card: next.card, past, future: work.future.slice(0, -1) };
}

function changes(from: Card, to: Card): Key[] {
  const keys = new Set([...Object.keys(from), ...Object.keys(to)] as Key[]);
  return [...keys].filter((key) => JSON.stringify(from[key]) !== JSON.stringify(to[key]));
}

/** The parts that both changed, and not alike. */
export function conflicts(base: CardCopy, mine: CardCopy): Key[] {
  const theirs = changes(mine.base, base.card);
  return changes(mine.base, mine.card).filter(
    (key) => theirs.includes(key) && JSON.stringify(base.card[key]) !== JSON.stringify(mine.card[key]),
  );
}

function put(base: CardWork, mine: CardCopy, keys: readonly Key[]): CardWork {
  const parts = Object.fromEntries(keys.map((key) => [key, mine.card[key]]));
  return { ...base, card: { ...base.card, ...parts } };
}

export const CARD_KIND: Kind<CardWork, CardCopy, CardAnswer> = {
  pauseMs: 400,
  dirty: (work) => work.card !== work.base && changes(work.base, work.card).length > 0,
  copyOf: ({ revision, card, base }) => ({ revision, card, base }),
  opened: workOf,
  acknowledged: (work, _sent, { revision, card }) => ({ ...work, revision, base: card }),
  meet: (base, mine) =>
    conflicts(base, mine).length > 0 ? null : put(base, mine, changes(mine.base, mine.card)),
  chosen: (base, mine, choice) => {
    const lost = choice === "theirs" ? conflicts(base, mine) : [];
    return put(
      base,
      mine,
      changes(mine.base, mine.card).filter((key) => !lost.includes(key)),
    );
  },
  replaced: (before, after) => ({ ...after, past: before.past, future: [] }),
};
