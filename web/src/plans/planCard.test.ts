import { describe, expect, it } from "vitest";
import type { Card } from "../api/types";
import { CARD_KIND, conflicts, redone, undone, withPart, workOf } from "./planCard";

const CARD = { title: "Crates", brief: "Move.", notes: "", pass_mark: 0.7, checks: [] } as unknown as Card;
const first = workOf({ revision: 3, card: CARD });

describe("a card in progress", () => {
  it("takes back what is typed at a stretch at once, and each other change alone", () => {
    let work = first;
    for (const title of ["C", "Cr", "Cra"]) work = withPart(work, "title", title);
    for (const mark of [0.8, 0.9]) work = withPart(work, "pass_mark", mark);
    expect(undone(work).card.pass_mark).toBe(0.8);
    const back = undone(undone(undone(work)));
    expect(back.card).toEqual(CARD);
    expect(undone(back)).toBe(back);
    expect(redone(redone(redone(back))).card).toEqual(work.card);
  });

  it("takes back a drag at once, and what is typed after it alone", () => {
    let work = first;
    for (const mark of [0.71, 0.72, 0.73]) work = withPart(work, "pass_mark", mark, "drag");
    work = withPart(work, "pass_mark", 0.9);
    expect(undone(work).card.pass_mark).toBe(0.73);
    expect(undone(undone(work)).card).toEqual(CARD);
  });

  it("begins a new stretch after an undo", () => {
    const typed = withPart(withPart(first, "title", "A"), "title", "AB");
    const again = withPart(undone(typed), "title", "B");
    expect(undone(again).card.title).toBe("Crates");
    expect(redone(again)).toBe(again);
  });

  it("is to be saved while something differs from what the server has", () => {
    expect(CARD_KIND.dirty(first)).toBe(false);
    const changed = withPart(first, "title", "Pots");
    expect(CARD_KIND.dirty(changed)).toBe(true);
    expect(CARD_KIND.dirty(withPart(changed, "title", "Crates"))).toBe(false);
    const later = withPart(changed, "brief", "Stack.");
    const saved = CARD_KIND.acknowledged(later, changed, { revision: 4, card: changed.card });
    expect([saved.revision, CARD_KIND.dirty(saved), saved.card.brief]).toEqual([4, true, "Stack."]);
  });

  it("meets another window's in peace where they changed other parts", () => {
    const mine = withPart(first, "title", "Mine");
    const theirs = workOf({ revision: 4, card: { ...CARD, brief: "Theirs." } });
    const met = CARD_KIND.meet(theirs, mine);
    expect(met?.card).toMatchObject({ title: "Mine", brief: "Theirs." });
    expect([met?.revision, met && CARD_KIND.dirty(met)]).toEqual([4, true]);
  });

  it("asks where both changed one part, and keeps what one alone changed", () => {
    const mine = withPart(withPart(first, "title", "Mine"), "notes", "My note.");
    const theirs = workOf({ revision: 4, card: { ...CARD, title: "Theirs", brief: "Theirs." } });
    expect(CARD_KIND.meet(theirs, mine)).toBeNull();
    expect(conflicts(theirs, mine)).toEqual(["title"]);
    const own = { title: "Mine", brief: "Theirs.", notes: "My note." };
    expect(CARD_KIND.chosen(theirs, mine, "mine").card).toMatchObject(own);
    expect(CARD_KIND.chosen(theirs, mine, "theirs").card).toMatchObject({ ...own, title: "Theirs" });
  });

  it("has what it was before it was replaced, by undo", () => {
    const typed = withPart(first, "title", "Mine");
    const after = CARD_KIND.replaced(typed, workOf({ revision: 4, card: { ...CARD, title: "Theirs" } }));
    expect(undone(after).card.title).toBe("Crates");
  });
});
