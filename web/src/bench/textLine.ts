// The sentence as one line of text, typed or pasted: "rotate lock gate by 75 about y of local through its pivot". Pure.
import type { Pivot, SceneObject } from "../api/types";
import { AXIS_INDICES, AXIS_NAMES, type AxisIndex } from "../view3d/matrices";
import { amountOf } from "./amount";
import { FIRST_SENTENCE, type Operation, type Sentence, type SpaceChoice } from "./sentence";

export type Parsed = { kind: "sentence"; sentence: Sentence } | { kind: "not-yet"; why: string };

const VERBS: Record<string, Operation> = { move: "move", rotate: "rotate", turn: "rotate", scale: "scale" };
const PIVOTS: readonly (readonly [RegExp, Pivot])[] = [
  [/^(its |the |own )*pivot$/, "own"],
  [/^(the )?(centre|center|middle) of (its|the) box$|^(its )?(box|centre|center)$/, "box"],
  [/^(the )?(middle of the chosen|selection|chosen)$/, "selection"],
  [/^(the )?origin$/, "origin"],
  [/^(the )?marker$/, "marker"],
];
const NUMBER = "[-+−]?[\\d.(][\\d.,+\\-*/()−× ]*";

/** Reads a line; forgiving about case, articles, units and order of the parts after the amount. */
export function parseLine(line: string, objects: readonly SceneObject[]): Parsed {
  const text = line.trim().toLowerCase().replace(/\s+/g, " ").replace(/\.$/, "");
  const [verb = ""] = text.split(" ");
  const op = VERBS[verb];
  if (!op) return notYet("Begin with move, rotate or scale.");
  const named = namesAt(text.slice(verb.length + 1), objects);
  if (named.ids.length === 0) return notYet("Name an object next, as it stands in the list.");
  const mode = /^(by|to) /.exec(named.rest)?.[1] as "by" | "to" | undefined;
  if (!mode) return notYet("Say by or to, and an amount.");
  const [rest, held] = aroundPivot(named.rest.slice(3));
  const space = spaceIn(rest, objects);
  if (space === null) return notYet("After “of” comes world, parent, local, view or an object.");
  const pivot = pivotIn(held, objects, named.ids.at(-1)!);
  if (pivot === null)
    return notYet(
      "After “through” or “holding” comes a pivot: its pivot, origin, marker, its box, or a place such as corner −X −Y +Z of an object.",
    );
  const base: Sentence = { ...FIRST_SENTENCE, op, objects: named.ids, mode, space, pivot };
  const amounts = op === "rotate" && mode === "by" ? turnIn(rest) : amountsIn(rest, op, mode);
  if (!amounts)
    return notYet(
      op === "rotate" ? "Say an angle and “about” an axis." : "Say an amount and an axis, such as 2 along x.",
    );
  return { kind: "sentence", sentence: { ...base, ...amounts } };
}

function namesAt(text: string, objects: readonly SceneObject[]): { ids: string[]; rest: string } {
  const ids: string[] = [];
  let rest = text;
  const byLength = [...objects].sort((a, b) => b.name.length - a.name.length);
  for (;;) {
    rest = rest.replace(/^(and |, ?|the )+/, "");
    const item = byLength.find(
      ({ name }) =>
        rest === name.toLowerCase() ||
        rest.startsWith(`${name.toLowerCase()} `) ||
        rest.startsWith(`${name.toLowerCase()},`),
    );
    if (!item) return { ids, rest };
    ids.push(item.id);
    rest = rest.slice(item.name.length).trimStart();
  }
}

type Amounts = Pick<Sentence, "axes" | "lit" | "amounts" | "uniform">;

function turnIn(rest: string): Amounts | null {
  const found = new RegExp(
    `^(${NUMBER})\\s*(?:°|deg(?:rees)?|rad|turns?)?\\s*(?:about|round|around) (?:the )?(?:axis )?([xyz])\\b`,
  ).exec(rest);
  if (!found || amountOf(found[1]!) === null) return null;
  return oneAmount("xyz".indexOf(found[2]!) as AxisIndex, found[1]!.trim(), false);
}

function amountsIn(rest: string, op: Operation, mode: "by" | "to"): Amounts | null {
  const amounts: [string, string, string] = ["", "", ""];
  const unit = "(?:mm|cm|m|in|ft|°|deg)?";
  const after = new RegExp(`(${NUMBER})\\s*${unit}\\s*(?:along |on |about )?([xyz])\\b`, "g");
  const before = new RegExp(`\\b([xyz])\\s*(?:to |= ?)?(${NUMBER})`, "g");
  const order = mode === "by" ? [after, before] : [before, after];
  for (const pattern of order) {
    for (const found of rest.matchAll(pattern)) {
      const [letter, number] = pattern === after ? [found[2]!, found[1]!] : [found[1]!, found[2]!];
      const value = number
        .trim()
        .replace(/[-+*/,]$/, "")
        .trim();
      if (amountOf(value) !== null) amounts["xyz".indexOf(letter) as AxisIndex] = value;
    }
    if (amounts.some((amount) => amount !== "")) break;
  }
  const given = AXIS_INDICES.filter((axis) => amounts[axis] !== "");
  if (given.length > 0) {
    const axes = AXIS_INDICES.map((axis) => given.includes(axis)) as unknown as Sentence["axes"];
    return { axes, lit: given[0]!, amounts, uniform: false };
  }
  const alone = new RegExp(`^(${NUMBER})`).exec(rest)?.[1]?.trim();
  if (op !== "scale" || mode !== "by" || !alone || amountOf(alone) === null) return null;
  return oneAmount(0, alone, true);
}

function oneAmount(axis: AxisIndex, amount: string, uniform: boolean): Amounts {
  const amounts = AXIS_INDICES.map((i) => (i === axis ? amount : "")) as unknown as Sentence["amounts"];
  return {
    axes: AXIS_INDICES.map((i) => i === axis) as unknown as Sentence["axes"],
    lit: axis,
    amounts,
    uniform,
  };
}

function spaceIn(rest: string, objects: readonly SceneObject[]): SpaceChoice | null {
  const said = /\b(?:of|in) (?:the )?(?!its box|the box|the chosen)(.+)$/.exec(` ${rest}`)?.[1];
  if (said === undefined) return "world";
  const word = said.replace(/ space$| axes$/, "").trim();
  if (word === "world" || word === "parent" || word === "local" || word === "view") return word;
  const name = word.replace(/^axes of (the )?/, "");
  const item = objects.find((object) => object.name.toLowerCase() === name);
  return item ? { object: item.id } : null;
}

/** What stands before the pivot, and the pivot, without the word that joins them. */
function aroundPivot(rest: string): [string, string | undefined] {
  const [before, ...after] = rest.split(/ (?:through|holding) /);
  return [before!, after.length > 0 ? after.join(" ") : undefined];
}

const PLACE =
  /^(?:the )?(?:face|edge(?: middle)?|corner|centre|center|pivot)?((?: ?[-+−][xyz]){0,3})(?: of (?:the )?(.+))?$/;

/** A pivot in words; a place without an object's name is on the one that is acted on. */
function pivotIn(said: string | undefined, objects: readonly SceneObject[], own: string): Pivot | null {
  if (said === undefined) return "own";
  const text = said.trim();
  const word = PIVOTS.find(([pattern]) => pattern.test(text))?.[1];
  if (word) return word;
  const [, signs = "", name] = PLACE.exec(text) ?? [];
  const at = signs.replaceAll("−", "-").replaceAll(" ", "") || /centre|center|pivot/.exec(text)?.[0];
  const item = objects.find((object) => (name ? object.name.toLowerCase() === name : object.id === own));
  return at && item ? { object: item.id, at: at === "center" ? "centre" : inOrder(at) } : null;
}

/** The signs of a place in the order in which places are named. */
function inOrder(at: string): string {
  if (!/^[-+]/.test(at)) return at;
  return (at.match(/[-+][xyz]/g) ?? []).sort((a, b) => a[1]!.localeCompare(b[1]!)).join("");
}

/** What could come next, as whole lines. */
export function completions(line: string, objects: readonly SceneObject[]): string[] {
  const text = line.toLowerCase();
  const verb = Object.keys(VERBS).find((word) => text.startsWith(`${word} `));
  if (!verb) return ["move ", "rotate ", "scale "].filter((word) => word.startsWith(text));
  const { ids, rest } = namesAt(text.slice(verb.length + 1).trimStart(), objects);
  if (ids.length === 0)
    return objects
      .filter((item) => !item.locked)
      .map((item) => `${verb} ${item.name} `)
      .filter((whole) => whole.toLowerCase().startsWith(text.trimEnd()));
  if (rest === "") return [`${line.trimEnd()} by `, `${line.trimEnd()} to `];
  const base = line.trimEnd();
  if (/ (by|to)$/.test(base)) return [];
  if (VERBS[verb] === "rotate" && !/about/.test(rest))
    return AXIS_NAMES.map((axis) => `${base} about ${axis.toLowerCase()}`);
  if (!/ of /.test(rest)) return ["world", "parent", "local"].map((word) => `${base} of ${word}`);
  return [];
}

function notYet(why: string): Parsed {
  return { kind: "not-yet", why };
}
