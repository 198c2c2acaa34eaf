import { describe, expect, it } from "vitest";
import type { Draft, Move, SceneObject, Step, StepView } from "../api/types";
import {
  SHEET_KIND,
  type SheetAnswer,
  type SheetCopy,
  type SheetWork,
  workOf as sheetWork,
  typed,
} from "../work/sheetWork";
import {
  draftKind,
  workOf as draftWork,
  type Start,
  type Unsaved,
  type Work,
  withStep,
} from "../workbench/draft";
import { after, type Choice, type Event, type Kind, type Saver, saverOf, savingOf, toDo } from "./saver";

const CONVENTIONS = { up: "y", handedness: "right", length: "m", angle: "deg", euler: "XYZ" } as const;
const sheet = (revision: number, cells: SheetAnswer["cells"] = {}): SheetAnswer => ({
  revision,
  conventions: CONVENTIONS,
  cells,
});
type SheetSaver = Saver<SheetWork, SheetCopy>;
const tell = (saver: SheetSaver, ...events: Event<SheetWork, SheetCopy, SheetAnswer>[]) =>
  events.reduce((now, event) => after(SHEET_KIND, now, event), saver);
const type = (id: string, text: string) =>
  ({ is: "changed", change: (work: SheetWork) => typed(work, { [id]: { scale0: text } }) }) as const;

describe("the saver", () => {
  const clean: SheetSaver = saverOf(sheetWork(sheet(1)));

  it("sends what was changed after a pause, and nothing while something is on its way", () => {
    expect(toDo(SHEET_KIND, clean)).toBeNull();
    const changed = tell(clean, type("a", "1"));
    expect(toDo(SHEET_KIND, changed)).toEqual({ afterMs: 500 });
    const sent = tell(changed, { is: "sent", doc: changed.doc }, type("a", "2"));
    expect(toDo(SHEET_KIND, sent)).toBeNull();
    const saved = tell(sent, { is: "saved", answer: sheet(2) });
    expect([saved.doc.revision, savingOf(SHEET_KIND, saved)]).toEqual([2, "saving"]); // what was typed meanwhile
    expect(toDo(SHEET_KIND, saved)).toEqual({ afterMs: 500 });
  });

  it("keeps a refusal in sight until the next change", () => {
    const sent = tell(clean, type("a", "1"), type("b", "x"));
    const refused = tell(
      sent,
      { is: "sent", doc: sent.doc },
      { is: "refused", trouble: { kind: "refused", text: "B cannot be read." }, mend: (doc) => doc },
    );
    const saved = tell(refused, { is: "sent", doc: refused.doc }, { is: "saved", answer: sheet(2) });
    expect(saved.trouble?.text).toBe("B cannot be read.");
    expect(tell(saved, type("b", "2")).trouble).toBeNull();
  });

  it("attempts again, each time later, up to eight seconds", () => {
    let saver = tell(clean, type("a", "1"));
    const waits = [1, 2, 3, 4, 5, 6, 7].map(() => {
      saver = tell(
        saver,
        { is: "sent", doc: saver.doc },
        { is: "failed", trouble: { kind: "no connection", text: "" } },
      );
      return toDo(SHEET_KIND, saver)?.afterMs;
    });
    expect(waits).toEqual([500, 1000, 2000, 4000, 8000, 8000, 8000]);
    expect(savingOf(SHEET_KIND, saver)).toBe("no connection");
    const back = tell(saver, { is: "sent", doc: saver.doc }, { is: "saved", answer: sheet(2) });
    expect([back.failures, back.trouble, savingOf(SHEET_KIND, back)]).toEqual([0, null, "saved"]);
  });

  it.each(["no connection", "signed out", "fault"] as const)("says %s as what it is", (kind) => {
    const saver = tell(clean, type("a", "1"), { is: "failed", trouble: { kind, text: "why" } });
    expect(savingOf(SHEET_KIND, saver)).toBe(kind);
  });

  it("two windows that changed different fields meet without a question", () => {
    const own = tell(clean, type("a", "1"));
    const met = tell(own, { is: "newer", answer: sheet(5, { b: { scale0: "2" } }) });
    expect(met.question).toBeNull();
    expect(met.doc.cells).toMatchObject({ a: { scale0: "1" }, b: { scale0: "2" } });
    expect(met.doc.revision).toBe(5);
  });

  it("asks where both changed one field, and sends nothing before it is answered", () => {
    const own = tell(clean, type("a", "1"), type("c", "3"));
    const asked = tell(own, { is: "newer", answer: sheet(5, { a: { scale0: "9" }, b: { scale0: "2" } }) });
    expect(asked.question).not.toBeNull();
    expect(toDo(SHEET_KIND, asked)).toBeNull();
    for (const [choice, kept] of [
      ["theirs", "9"],
      ["mine", "1"],
    ] as const) {
      const cells = { a: { scale0: kept }, b: { scale0: "2" }, c: { scale0: "3" } };
      expect(tell(asked, { is: "answered", choice }).doc.cells).toMatchObject(cells);
    }
  });

  it("a lost answer is no other window's work", () => {
    const own = tell(clean, type("a", "1"));
    const met = tell(own, { is: "newer", answer: sheet(2, { a: { scale0: "1" } }) });
    expect([met.question, savingOf(SHEET_KIND, met)]).toEqual([null, "saved"]);
  });

  it("what is found while something is on its way is met once that has come back, whatever came of it", () => {
    const base = { conventions: CONVENTIONS, cells: {} };
    const left: SheetCopy = { revision: 1, base, conventions: CONVENTIONS, cells: { b: { scale0: "b" } } };
    const changed = tell(clean, type("a", "1"));
    const found = tell(changed, { is: "sent", doc: changed.doc }, { is: "left behind", copies: [left] });
    expect(found.doc.cells).toEqual({ a: { scale0: "1" } });
    const outcomes: Event<SheetWork, SheetCopy, SheetAnswer>[] = [
      { is: "saved", answer: sheet(2) },
      { is: "failed", trouble: { kind: "no connection", text: "" } },
      { is: "newer", answer: sheet(3) },
      { is: "refused", trouble: { kind: "refused", text: "" }, mend: (doc) => doc },
    ];
    for (const outcome of outcomes) {
      const met = tell(found, outcome);
      expect(met.doc.cells, outcome.is).toEqual({ a: { scale0: "1" }, b: { scale0: "b" } });
      expect(met.waiting).toEqual([]);
    }
  });

  it("what two closed windows left behind is met one after the other", () => {
    const base = { conventions: CONVENTIONS, cells: {} };
    const left = (id: string): SheetCopy => ({
      revision: 1,
      base,
      conventions: CONVENTIONS,
      cells: { [id]: { scale0: id } },
    });
    const met = tell(clean, { is: "left behind", copies: [left("a"), left("b")] });
    expect(met.doc.cells).toEqual({ a: { scale0: "a" }, b: { scale0: "b" } });
    const busy = tell(clean, { is: "sent", doc: clean.doc }, { is: "left behind", copies: [left("a")] });
    const both = tell(busy, { is: "left behind", copies: [left("b")] }, { is: "saved", answer: sheet(2) });
    expect(both.doc.cells).toEqual(met.doc.cells);
    expect(toDo(SHEET_KIND, met)).not.toBeNull();
  });
});

// ---- Random orders of typing, saving, losing the line, reloading, a second window: nothing is lost without a question.

/** A small generator of numbers, the same at every run. */
function dice(seed: number) {
  let state = seed * 2654435761;
  return (n: number) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * n);
  };
}

type World<Doc, Copy, Answer> = {
  kind: Kind<Doc, Copy, Answer>;
  /** The server's work as it is answered, and after a save of a document. */
  empty: Answer;
  saved: (doc: Doc, revision: number) => Answer;
  revisionOf: (of: Doc | Answer) => number;
  /** The nth thing that is typed anywhere. */
  typed: (doc: Doc, n: number, roll: (n: number) => number) => Doc;
  /** All things that a document, a copy or an answer holds. */
  holds: (of: Doc | Copy | Answer) => readonly string[];
  /** What an answer to the question gives up, of what stands there. */
  givenUp: (base: Doc, mine: Copy, choice: Choice) => readonly string[];
  name: (n: number) => string;
};

let asked = 0;

function lost<Doc, Copy, Answer>(world: World<Doc, Copy, Answer>, seed: number): string[] {
  const { kind } = world;
  const roll = dice(seed);
  let server = world.empty;
  let count = 0;
  const discarded = new Set<string>();
  const windows: (Saver<Doc, Copy> | null)[] = [null, null];
  const storage = new Map<number, Copy>();
  let left: Copy[] = [];
  const taken: Copy[][] = [[], []]; // what other windows left and is not settled yet: the browser still has it
  const open = (w: number) => {
    windows[w] = saverOf<Doc, Copy>(kind.opened(server));
    keep(w);
  };
  // What is left behind is found some time after a window opens, maybe while it saves.
  const find = (w: number) => {
    const copies = left;
    left = [];
    taken[w]!.push(...copies);
    if (copies.length > 0) step(w, { is: "left behind", copies });
  };
  // The browser's copy is written with every change, as the hook does.
  const keep = (w: number) => {
    const saver = windows[w]!;
    const settled = saver.question === null && saver.waiting.length === 0;
    if (settled) taken[w] = [];
    if (!settled || kind.dirty(saver.doc)) storage.set(w, kind.copyOf(saver.doc));
    else storage.delete(w);
  };
  const step = (w: number, event: Event<Doc, Copy, Answer>) => {
    windows[w] = after(kind, windows[w]!, event);
    keep(w);
  };
  const type = (w: number) => {
    const before = windows[w]!.doc;
    const doc = world.typed(before, count++, roll);
    const now = new Set(world.holds(doc));
    for (const name of world.holds(before)) if (!now.has(name)) discarded.add(name); // typed over
    step(w, { is: "changed", change: () => doc });
  };
  const answerIfAsked = (w: number) => {
    const question = windows[w]?.question;
    if (!question) return;
    const choice = (["theirs", "mine", "both"] as const)[roll(3)]!;
    for (const name of world.givenUp(question.base, question.mine, choice)) discarded.add(name);
    asked++;
    step(w, { is: "answered", choice });
    answerIfAsked(w);
  };
  const send = (w: number, fate: number) => {
    const saver = windows[w]!;
    if (!toDo(kind, saver)) return;
    const doc = saver.doc;
    step(w, { is: "sent", doc });
    if (roll(3) === 0) find(w);
    if (fate === 0) return step(w, { is: "failed", trouble: { kind: "no connection", text: "" } });
    if (world.revisionOf(doc) !== world.revisionOf(server)) return step(w, { is: "newer", answer: server });
    server = world.saved(doc, world.revisionOf(server) + 1);
    if (fate === 1) return step(w, { is: "failed", trouble: { kind: "no connection", text: "" } }); // the answer is lost
    if (roll(3) === 0) type(w); // meanwhile
    step(w, { is: "saved", answer: server });
  };
  for (let i = 0; i < 60; i++) {
    const w = roll(2);
    if (windows[w] === null) open(w);
    answerIfAsked(w);
    const what = roll(10);
    if (what < 4) type(w);
    else if (what < 7) send(w, roll(4));
    else if (what < 8) find(w);
    else {
      // The window is closed or crashes; what it has not saved lies in the browser for the next one that opens.
      const copy = storage.get(w);
      left.push(...taken[w]!, ...(copy === undefined ? [] : [copy]));
      taken[w] = [];
      storage.delete(w);
      windows[w] = null;
    }
  }
  for (let i = 0; i < 40; i++) {
    const w = i % 2;
    if (windows[w] === null) open(w);
    answerIfAsked(w);
    find(w);
    answerIfAsked(w);
    send(w, 2);
    answerIfAsked(w);
  }
  const there = new Set(world.holds(server));
  return Array.from({ length: count }, (_, n) => world.name(n)).filter(
    (name) => !there.has(name) && !discarded.has(name),
  );
}

const SHEETS: World<SheetWork, SheetCopy, SheetAnswer> = {
  kind: SHEET_KIND,
  empty: sheet(0),
  saved: ({ conventions, cells }, revision) => ({ revision, conventions, cells }),
  revisionOf: ({ revision }) => revision,
  // Each thing goes to a field of its own, or now and then to the one field that all windows share.
  typed: (doc, n, roll) => typed(doc, { [roll(6) === 0 ? "shared" : `o${n}`]: { scale0: `t${n}` } }),
  holds: ({ cells }) => Object.values(cells).flatMap((own) => Object.values(own)),
  givenUp: (base, mine, choice) => {
    const [theirs, own] = [base, mine].map(({ cells }) => cells.shared?.scale0 ?? "");
    return [choice === "theirs" ? own! : theirs!];
  },
  name: (n) => `t${n}`,
};

const START: Start = {
  objects: [{ id: "crate", parent: null } as SceneObject],
  start: {},
  marker: [0, 0, 0],
  conventions: CONVENTIONS,
};
const view = (step: Step): StepView => ({
  step,
  on: true,
  sentence: "",
  changed: {},
  objects: [],
  gone: [],
  marker: null,
  skewed: [],
});
const draft = (revision: number, steps: Step[]): Draft => ({
  revision, cursor: steps.length, saved_at: "", first: 0, steps: steps.map(view), refused: null, rest: [], matches: {},
  state: { gaps: [], readings: {}, matches: [] },
}); // biome-ignore format: facts

function stepsIn(of: Work | Unsaved | Draft): Step[] {
  return "entries" in of
    ? of.entries.map(({ step }) => step)
    : of.steps.map((each) => ("op" in each ? each : each.step));
}

const DRAFTS: World<Work, Unsaved, Draft> = {
  kind: draftKind(START),
  empty: draft(0, []),
  saved: (work, revision) =>
    draft(
      revision,
      work.entries.map((entry) => entry.step),
    ),
  revisionOf: ({ revision }) => revision,
  typed: (work, n) =>
    withStep(work, { op: "move", objects: ["crate"], space: "world", by: [n, 0, 0] }, START),
  holds: (of) => stepsIn(of).map((step) => String((step as Move).by![0])),
  givenUp: (base, mine, choice) => {
    const [theirs, own] = [DRAFTS.holds(base), DRAFTS.holds(mine)];
    if (choice === "both") return [];
    return choice === "theirs"
      ? own.filter((n) => !theirs.includes(n))
      : theirs.filter((n) => !own.includes(n));
  },
  name: String,
};

describe("in random orders of typing, saving, losing the line, closing and a second window", () => {
  function nothingIsLost<Doc, Copy, Answer>(world: World<Doc, Copy, Answer>) {
    asked = 0;
    for (let seed = 1; seed <= 200; seed++) expect(lost(world, seed), `seed ${seed}`).toEqual([]);
    expect(asked).toBeGreaterThan(50);
  }

  it("no field of a sheet is lost but what was typed over or given up when asked", { timeout: 60_000 }, () =>
    nothingIsLost(SHEETS),
  );

  it("no step on the bench is lost but what was given up when asked", { timeout: 60_000 }, () =>
    nothingIsLost(DRAFTS),
  );

  it("the search would notice: a kind that overwrites loses things", () => {
    const careless = { ...SHEETS, kind: { ...SHEET_KIND, meet: (base: SheetWork) => base } };
    const found = Array.from({ length: 50 }, (_, seed) => lost(careless, seed + 1)).flat();
    expect(found.length).toBeGreaterThan(0);
  });

  it("no step is doubled where both windows' are kept", () => {
    for (let seed = 1; seed <= 100; seed++) {
      const kind = DRAFTS.kind;
      const roll = dice(seed);
      const shared = Array.from({ length: roll(4) }, (_, n) => n);
      const [theirs, mine] = [100, 200].map((from) =>
        [...shared, ...Array.from({ length: 1 + roll(3) }, (_, n) => from + n)].reduce(
          (w, n) => DRAFTS.typed(w, n, roll),
          draftWork(DRAFTS.empty),
        ),
      );
      const both = kind.chosen(theirs!, kind.copyOf(mine!), "both");
      const numbers = both.entries.map((entry) => (entry.step as Move).by![0]);
      expect(new Set(numbers).size).toBe(numbers.length);
    }
  });
});
