// The sentence as one line of text, typed or pasted: "rotate lock gate by 75 about y of local through its pivot". Pure.
// What cannot be read whole is refused with its place: a unit or a word that is passed over would be a wrong step.
import type { Exercise, Pivot, SceneObject } from "../api/types";
import { amountOf } from "../ui/amount";
import { AXIS_INDICES, AXIS_NAMES, type AxisIndex, each } from "../view3d/matrices";
import { FIRST_SENTENCE, type Operation, type Sentence, type SpaceChoice } from "./sentence";

export type Parsed = { kind: "sentence"; sentence: Sentence } | { kind: "not-yet"; why: string };
type Conventions = Exercise["conventions"];

const VERBS: Record<string, Operation> = { move: "move", rotate: "rotate", turn: "rotate", scale: "scale" };
const PIVOTS: readonly (readonly [RegExp, Pivot])[] = [
  [/^(its |the |own )*pivot$/, "own"],
  [/^(the )?(centre|center|middle) of (its|the) box$|^(its )?(box|centre|center)$/, "box"],
  [/^(the )?(middle of the chosen|selection|chosen)$/, "selection"],
  [/^(the )?origin$/, "origin"],
  [/^(the )?marker$/, "marker"],
];
// Source: international yard and pound agreement (1959), 1 in = 25.4 mm.
const MILLIMETRES: Record<string, number> = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 };
const TURNS: Record<string, number> = {
  "°": 1 / 360,
  deg: 1 / 360,
  degrees: 1 / 360,
  rad: 1 / (2 * Math.PI),
  turn: 1,
  turns: 1,
};

/** Reads a line; forgiving about case and articles, and about a unit other than the exercise's, which is converted. */
export function parseLine(line: string, objects: readonly SceneObject[], conventions: Conventions): Parsed {
  const text = line.trim().toLowerCase().replace(/\s+/g, " ").replace(/\.$/, "");
  const [verb = ""] = text.split(" ");
  const op = VERBS[verb];
  if (!op) return notYet("Begin with move, rotate or scale.");
  const named = namesAt(text.slice(verb.length + 1), objects);
  if (named.ids.length === 0) return notYet("Name an object next, as it stands in the list.");
  const mode = /^(by|to)(?: |$)/.exec(named.rest)?.[1] as "by" | "to" | undefined;
  if (!mode) return notYet(stuck(named.rest, "say by or to, and an amount"));
  const [rest, held] = aroundPivot(named.rest.slice(3));
  const pivot = pivotIn(held, objects, named.ids.at(-1)!);
  if (pivot === null)
    return notYet(
      stuck(
        held!,
        "a pivot comes after “through” or “holding”: its pivot, origin, marker, its box, or a place such as corner −X −Y +Z of an object",
      ),
    );
  const read = new Line(rest);
  const amounts = amountsIn(read, op, mode, conventions);
  if (typeof amounts === "string") return notYet(amounts);
  if (held !== undefined && !(op === "scale" || (op === "rotate" && mode === "by")))
    return notYet(stuck(held, "this step goes through no pivot"));
  const keepVolume = op === "scale" && mode === "by" && read.cut(/,? ?\bkeeping its volume,?/);
  const space = spaceAt(read, objects, op === "rotate" && mode === "to" ? ["world", "parent"] : null);
  if (space === null)
    return notYet(stuck(read.rest, "after “of” comes world, parent, local, view or an object"));
  if (read.rest !== "") return notYet(stuck(read.rest, "nothing more is understood here"));
  return {
    kind: "sentence",
    sentence: { ...FIRST_SENTENCE, op, objects: named.ids, mode, space, pivot, ...amounts, keepVolume },
  };
}

/** What is still to be read of a line; what is read is taken away from its front. */
class Line {
  constructor(public rest: string) {
    this.rest = rest.trim();
  }

  take(pattern: RegExp): RegExpExecArray | null {
    const found = pattern.exec(this.rest);
    if (found) this.rest = this.rest.slice(found[0].length).trim();
    return found;
  }

  /** Whether words stand anywhere in it; they are taken away. */
  cut(words: RegExp): boolean {
    const before = this.rest;
    this.rest = before.replace(words, "").trim();
    return this.rest !== before;
  }

  /** The longest number at the front, arithmetic included; `null` where there is none. */
  number(): string | null {
    const longest = /^[-+−\d.,()*/× e]+/.exec(this.rest)?.[0] ?? "";
    for (let length = longest.length; length > 0; length--) {
      const text = this.rest.slice(0, length);
      const next = this.rest.slice(length);
      if (text !== text.trim() || amountOf(text) === null || /^(?:[\d.]|,\d|e[-+\d])/.test(next)) continue;
      this.rest = next.trim();
      return text;
    }
    return null;
  }
}

/** Says from where on a line is not understood, and what could stand there. */
function stuck(rest: string, expected: string): string {
  const from = rest.trim();
  const first = expected[0]!.toUpperCase() + expected.slice(1);
  return from === ""
    ? `${first}.`
    : `From “${from.length > 24 ? `${from.slice(0, 24)}…` : from}” on: ${expected}.`;
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

/** The amounts at the front of a line, or what is missing there. */
function amountsIn(read: Line, op: Operation, mode: "by" | "to", conventions: Conventions): Amounts | string {
  const units =
    op === "rotate"
      ? angleUnits(conventions)
      : op === "move" || mode === "to"
        ? lengthUnits(conventions)
        : {};
  if (op === "rotate" && mode === "by") return turnIn(read, units);
  const letters = op === "rotate" ? conventions.euler.toLowerCase() : "xyz";
  const amounts: [string, string, string] = ["", "", ""];
  for (;;) {
    read.take(/^(?:and |, ?)+/);
    const found = axisAmount(read, units, letters);
    if (found === null) break;
    if (typeof found === "string") return found;
    const axis = letters.split("").findIndex((letter, i) => letter === found.letter && amounts[i] === "");
    if (axis === -1)
      return stuck(found.letter, "this axis has its amount already, or is none of the order of angles");
    amounts[axis as AxisIndex] = found.amount;
  }
  const given = AXIS_INDICES.filter((axis) => amounts[axis] !== "");
  if (op === "scale" && given.length === 1 && mode === "to" && read.take(/^,? ?the rest alike/))
    return { ...oneAmount(given[0]!, amounts[given[0]!], true) };
  if (given.length > 0) {
    const axes = each((axis) => given.includes(axis));
    return { axes, lit: given[0]!, amounts, uniform: false };
  }
  if (op === "scale" && mode === "by") {
    const factor = read.number();
    if (factor !== null && read.take(/^(?:times|×)?(?: ?(?:on|along) all axes)?/))
      return oneAmount(0, factor, true);
  }
  return stuck(read.rest, "say an amount and an axis, such as 2 along x");
}

/** `2 m along x`, `x 2 m` or `x to 2`: one amount in the exercise's unit and its axis; `null` where there is none. */
function axisAmount(
  read: Line,
  units: Units,
  letters: string,
): { letter: string; amount: string } | string | null {
  const before = read.rest;
  const letter = read.take(new RegExp(`^([${letters}])(?: to| ?=)?(?= ?[-+−\\d.,(])`))?.[1];
  const amount = quantity(read, units);
  if (amount === null || typeof amount === "object") {
    const why = amount?.why ?? (letter ? stuck(read.rest, "an amount comes after the axis") : null);
    if (why === null) read.rest = before;
    return why;
  }
  if (letter) return { letter, amount };
  const after = read.take(/^(?:along |on |about )?(?:the )?(?:axis )?([xyz])(?![a-z0-9])/)?.[1];
  if (after) return { letter: after, amount };
  read.rest = before;
  // A number that no axis follows may be the factor of a scaling on all axes.
  return /^(?:\S+ )?(?:times|×)?(?: ?(?:on|along) all axes|,? ?keeping|$| of | in )/.test(
    before.slice(lengthOfNumber(before)),
  )
    ? null
    : stuck(
        before.slice(lengthOfNumber(before)) || before,
        "an axis comes after the amount, such as along x",
      );
}

function lengthOfNumber(text: string): number {
  const line = new Line(text);
  line.number();
  return text.trim().length - line.rest.length;
}

type Units = Readonly<Record<string, number>>;

function lengthUnits(conventions: Conventions): Units {
  const own = MILLIMETRES[conventions.length]!;
  return Object.fromEntries(Object.entries(MILLIMETRES).map(([unit, size]) => [unit, size / own]));
}

function angleUnits(conventions: Conventions): Units {
  const own = TURNS[conventions.angle]!;
  return Object.fromEntries(Object.entries(TURNS).map(([unit, size]) => [unit, size / own]));
}

/** A number with its unit, if it has one, in the exercise's own; a unit that is not known is said. */
function quantity(read: Line, units: Units): string | { why: string } | null {
  const number = read.number();
  if (number === null) return null;
  const unit = read.take(/^(?:°|[a-z]{2,}|m)(?![a-z0-9])/)?.[0];
  if (unit === undefined) return number;
  const inches = unit === "in" && unit in units && AFTER_INCHES.test(read.rest);
  if (WORDS_AFTER.has(unit) && !inches) {
    read.rest = `${unit} ${read.rest}`.trim();
    return number;
  }
  const ratio = units[unit];
  const known = Object.keys(units);
  if (ratio === undefined)
    return {
      why: stuck(
        unit,
        known.length > 0 ? `it is no unit here; one of ${known.join(", ")} is` : "a factor has no unit",
      ),
    };
  return ratio === 1 ? number : String(Number((amountOf(number)! * ratio).toPrecision(CLEAN)));
}

const CLEAN = 15; // figures: 0.1 cm is 1 mm, and not what float64 makes of it
// What follows inches; before anything else “in” is said of a space, as in “in local”.
const AFTER_INCHES = /^(?:$|,|(?:and|along|on|about|of|in|[xyz])(?![a-z0-9]))/;

const WORDS_AFTER = new Set([
  "along",
  "on",
  "about",
  "around",
  "round",
  "and",
  "of",
  "in",
  "the",
  "axis",
  "times",
  "keeping",
  "to",
]);

function turnIn(read: Line, units: Units): Amounts | string {
  const angle = quantity(read, units);
  if (angle === null) return stuck(read.rest, "say an angle and “about” an axis");
  if (typeof angle === "object") return angle.why;
  const letter = read.take(/^(?:about|round|around) (?:the )?(?:axis )?([xyz])(?![a-z0-9])/)?.[1];
  if (!letter) return stuck(read.rest, "say “about” and an axis: x, y or z");
  return oneAmount("xyz".indexOf(letter) as AxisIndex, angle, false);
}

function oneAmount(axis: AxisIndex, amount: string, uniform: boolean): Amounts {
  const amounts = each((i) => (i === axis ? amount : ""));
  return {
    axes: each((i) => i === axis),
    lit: axis,
    amounts,
    uniform,
  };
}

/** The space at the end of a line; world where none is named, `null` where what is named is none. */
function spaceAt(
  read: Line,
  objects: readonly SceneObject[],
  only: readonly string[] | null,
): SpaceChoice | null {
  if (!read.take(/^,? ?(?:of|in) (?:the )?/)) return "world";
  const word = read.rest.replace(/ space$| axes$/, "").trim();
  const named = word === "world" || word === "parent" || word === "local" || word === "view" ? word : null;
  const name = word.replace(/^axes of (the )?/, "");
  const item = objects.find((object) => object.name.toLowerCase() === name);
  const found: SpaceChoice | null = named ?? (item ? { object: item.id } : null);
  if (found === null || (only && !(typeof found === "string" && only.includes(found)))) return null;
  read.rest = "";
  return found;
}

/** What stands before the pivot, and the pivot, without the word that joins them. */
function aroundPivot(rest: string): [string, string | undefined] {
  const [before, ...after] = ` ${rest} `.split(/ (?:through|holding) /);
  return [before!.trim(), after.length > 0 ? after.join(" ").trim() : undefined];
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
