// The step sentence as a value: what its chips say. What that means is the kinds' own (steps/). Pure.
import type { Pivot, Point, Space, Step } from "../api/types";
import { nth } from "../ui/lists";
import { type AxisIndex, each } from "../view3d/matrices";

export type Op = Step["op"];
/** The kinds whose sentence is built of axes and amounts, and that have handles. */
export type AxisOp = "move" | "rotate" | "scale";
export type MoreOp = Exclude<Op, AxisOp>;
export type StepOf<O extends Op> = Extract<Step, { op: O }>;
/** What a step says beside its kind and the objects it acts on. */
export type Body<O extends Op> = Omit<StepOf<O>, "op" | "objects" | "entry">;
/** What is chosen so far. */
export type Values<O extends Op> = Partial<Body<O>>;

/** A sentence of a kind under More. turn: differs from one that is begun to the next. */
export type MoreSentence = { op: MoreOp; values: Values<MoreOp>; turn: number };

export type Mode = "by" | "to";
type Each<T> = readonly [T, T, T];

/** The space chip: a word, or a space with its own data. "view" becomes the camera's directions when the step is made. */
export type SpaceChoice = Exclude<Space, { view: unknown }> | "view";

/** A sentence of axes and amounts, and the objects that a sentence of any kind acts on. */
export type Sentence = {
  op: AxisOp;
  objects: readonly string[];
  mode: Mode;
  space: SpaceChoice;
  pivot: Pivot;
  /** Moving to coordinates: the point that comes there, where that is not the pivot. */
  point: Point | null;
  /** The axes that are switched on: one is a line, two a plane, three free. */
  axes: Each<boolean>;
  /** The axis that a typed number goes to; always one that is on. */
  lit: AxisIndex;
  amounts: Each<string>;
  /** Scaling: one amount for all axes. */
  uniform: boolean;
  /** Scaling: the other two axes give way. */
  keepVolume: boolean;
};

export const FIRST_SENTENCE: Sentence = {
  op: "move",
  objects: [],
  mode: "by",
  space: "world",
  pivot: "own",
  point: null,
  axes: [true, false, false],
  lit: 0,
  amounts: ["", "", ""],
  uniform: false,
  keepVolume: false,
};

/** What Enter would do now, or why it does nothing. */
/** asked: the core has not told yet what the step would do. */
export type Reading =
  | { kind: "ready"; step: Step; words: string }
  | { kind: "asked"; step: Step; why: string }
  | { kind: "not-ready"; why: string };

/** One axis alone. */
export function withOnlyAxis(sentence: Sentence, axis: AxisIndex): Sentence {
  return withAxes(sentence, [axis]);
}

/** Only these axes, the first of them lit. */
export function withAxes(sentence: Sentence, axes: readonly AxisIndex[]): Sentence {
  return { ...sentence, axes: each((i) => axes.includes(i)), lit: nth(axes, 0) };
}

export function withAmount(sentence: Sentence, axis: AxisIndex, text: string): Sentence {
  return { ...sentence, amounts: each((i) => (i === axis ? text : sentence.amounts[i])) };
}

export function withoutAmounts(sentence: Sentence): Sentence {
  return { ...sentence, amounts: ["", "", ""] };
}
