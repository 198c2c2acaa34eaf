// The step sentence as a value: what its chips say, what step that makes, and what is still missing. Pure.
import type { SceneObject, Step } from "../api/types";
import { short } from "../ui/numbers";
import { AXIS_INDICES, AXIS_NAMES, type AxisIndex } from "../view3d/matrices";
import { amountOf } from "./amount";

export type Mode = "by" | "to";
export type SpaceWord = "world" | "local";
type Each<T> = readonly [T, T, T];

export type Sentence = {
  object: string | null;
  mode: Mode;
  space: SpaceWord;
  /** The axes that are switched on: one is a line, two a plane, three free. */
  axes: Each<boolean>;
  /** The axis that a typed number goes to; always one that is on. */
  lit: AxisIndex;
  amounts: Each<string>;
};

export const FIRST_SENTENCE: Sentence = {
  object: null,
  mode: "by",
  space: "world",
  axes: [true, false, false],
  lit: 0,
  amounts: ["", "", ""],
};

export type Reading = { kind: "ready"; step: Step; words: string } | { kind: "not-ready"; why: string };

export const SPACE_WORDS: Record<SpaceWord, string> = { world: "World", local: "Local" };

/** What Enter would do now, or why it does nothing. */
export function readSentence(sentence: Sentence, objects: readonly SceneObject[], unit: string): Reading {
  const item = objects.find((object) => object.id === sentence.object);
  if (!item) return notReady("Choose an object: click it in the view or in the list.");
  if (item.locked) return notReady(`${item.name} is locked and cannot be moved; choose another object.`);
  const typed = AXIS_INDICES.filter((axis) => sentence.axes[axis] && sentence.amounts[axis].trim() !== "");
  if (typed.length === 0) {
    return notReady(`Type how far ${item.name} goes along ${AXIS_NAMES[sentence.lit]}, or drag a rail.`);
  }
  const values = AXIS_INDICES.map((axis) => (typed.includes(axis) ? amountOf(sentence.amounts[axis]) : null));
  const unread = typed.find((axis) => values[axis] === null);
  if (unread !== undefined) {
    return notReady(`The amount for ${AXIS_NAMES[unread]} is not a number; type one such as 2.5 or 3/4.`);
  }
  const parts = typed.map((axis) => {
    const amount = `${short(values[axis]!)} ${unit}`;
    return sentence.mode === "by" ? `${amount} along ${AXIS_NAMES[axis]}` : `${AXIS_NAMES[axis]} ${amount}`;
  });
  const words = `Enter moves ${item.name} ${sentence.mode} ${parts.join(" and ")} of ${SPACE_WORDS[sentence.space]}.`;
  return {
    kind: "ready",
    words,
    step: { ...stepHead(item.id, sentence.space), ...amountsOf(sentence.mode, values), entry: "typed" },
  };
}

/** The step of a drag: a move by what was dragged, cleared of what the axes that are off would carry. */
export function draggedStep(object: string, space: SpaceWord, by: readonly [number, number, number]): Step {
  return { ...stepHead(object, space), by: [...by], entry: "dragged" };
}

function stepHead(object: string, space: SpaceWord): Pick<Step, "op" | "objects" | "space"> {
  return { op: "move", objects: [object], space };
}

function amountsOf(mode: Mode, values: (number | null)[]): Pick<Step, "by" | "to"> {
  if (mode === "by") return { by: values.map((value) => value ?? 0) as [number, number, number] };
  return { to: values as [number | null, number | null, number | null] };
}

function notReady(why: string): Reading {
  return { kind: "not-ready", why };
}

/** One axis alone. */
export function withOnlyAxis(sentence: Sentence, axis: AxisIndex): Sentence {
  return { ...sentence, axes: each((i) => i === axis), lit: axis };
}

/** Only these axes, the first of them lit. */
export function withAxes(sentence: Sentence, axes: readonly AxisIndex[]): Sentence {
  return { ...sentence, axes: each((i) => axes.includes(i)), lit: axes[0]! };
}

/** An axis switched on or off; the last one stays on. */
export function withAxisSwitched(sentence: Sentence, axis: AxisIndex): Sentence {
  const axes = each((i) => (i === axis ? !sentence.axes[i] : sentence.axes[i]));
  const first = axes.indexOf(true);
  if (first === -1) return sentence;
  const lit = axes[axis] ? axis : axes[sentence.lit] ? sentence.lit : (first as AxisIndex);
  return { ...sentence, axes, lit };
}

export function withAmount(sentence: Sentence, axis: AxisIndex, text: string): Sentence {
  return { ...sentence, amounts: each((i) => (i === axis ? text : sentence.amounts[i])) };
}

export function withoutAmounts(sentence: Sentence): Sentence {
  return { ...sentence, amounts: ["", "", ""] };
}

function each<T>(of: (axis: AxisIndex) => T): Each<T> {
  return [of(0), of(1), of(2)];
}
