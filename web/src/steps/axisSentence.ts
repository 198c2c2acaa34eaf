// What a sentence of axes and amounts makes, what it still lacks, and how it becomes another. Pure.
import type { Reading as ObjectReading, SceneObject } from "../api/types";
import {
  type AxisOp,
  type Mode,
  type Reading,
  type Sentence,
  type StepOf,
  withAmount,
  withOnlyAxis,
  withoutAmounts,
} from "../state/sentence";
import { amountOf, readAmount } from "../ui/amount";
import { nth } from "../ui/lists";
import { listed } from "../ui/words";
import type { Directions } from "../view3d/camera";
import { AXIS_INDICES, type AxisIndex, each } from "../view3d/matrices";
import type { Conventions } from "./axisKind";
import { axisKindOf } from "./axisKinds";
import { pointWords } from "./features";
import { pivotWords, spaceOf, spaceWords } from "./spaces";

/** What Enter would do now, or why it does nothing. */
export function readSentence(
  sentence: Sentence,
  objects: readonly SceneObject[],
  conventions: Conventions,
  view: Directions,
  readings: Readonly<Record<string, ObjectReading>> = {},
): Reading {
  const kind = axisKindOf(sentence.op);
  const items = objects.filter((object) => sentence.objects.includes(object.id));
  const names = listed(items.map((item) => item.name));
  if (items.length === 0) return notReady("Select an object in the view or in the list.");
  const locked = items.find((item) => item.locked);
  if (locked) return notReady(`${locked.name} is locked. Select another object.`);
  const typed = typedAxes(sentence).filter((axis) => sentence.amounts[axis].trim() !== "");
  if (typed.length === 0) return notReady(kind.invitation(sentence, names, items.length > 1));
  const values = AXIS_INDICES.map((axis) => (typed.includes(axis) ? amountOf(sentence.amounts[axis]) : null));
  const unread = typed.find((axis) => values[axis] === null);
  if (unread !== undefined) {
    const read = readAmount(sentence.amounts[unread]);
    const letter = letterOf(sentence, unread, conventions);
    return notReady(`The amount for ${letter} cannot be read: ${"why" in read ? read.why : ""}.`);
  }
  const space = spaceOf(sentence.space, view);
  const reading = items.length === 1 ? readings[nth(items, 0).id] : undefined;
  const made = kind.make({ sentence, values, space, reading });
  if (typeof made === "string") return notReady(made);
  const step = { ...made, objects: [...sentence.objects], entry: "typed" } as StepOf<AxisOp>;
  const place = placeWords(step, sentence, objects);
  return {
    kind: "ready",
    step,
    words: `Enter ${kind.verb} ${names} ${kind.words(step, conventions)} ${place}.`,
  };
}

/** The letter of an axis, or, of angles to turn to, that of their order. */
export function letterOf(
  { op, mode }: Pick<Sentence, "op" | "mode">,
  axis: AxisIndex,
  conventions: Conventions,
) {
  return axisKindOf(op).letters(mode, conventions)[axis]!;
}

/** The axes that take an amount. */
export function typedAxes(sentence: Sentence): readonly AxisIndex[] {
  const kind = axisKindOf(sentence.op);
  if (kind.takesAll(sentence.mode)) return AXIS_INDICES;
  if (kind.takesOne(sentence)) return [sentence.lit];
  return AXIS_INDICES.filter((axis) => sentence.axes[axis]);
}

function placeWords(step: StepOf<AxisOp>, sentence: Sentence, objects: readonly SceneObject[]): string {
  const kind = axisKindOf(sentence.op);
  const words: string[] = [];
  if (kind.hasDirections(step)) words.push(`of ${spaceWords(sentence.space, objects)}`);
  const holding = kind.pivotWord(sentence.mode);
  if (holding !== null) words.push(`${holding} ${pivotWords(sentence.pivot, objects)}`);
  if ("point" in step && step.point) words.push(`taken at ${pointWords(step.point, objects)}`);
  return words.join(" ");
}

function notReady(why: string): Reading {
  return { kind: "not-ready", why };
}

/** Another kind: the amounts meant something else, and one axis is enough to begin with. */
export function withKind(sentence: Sentence, op: AxisOp): Sentence {
  if (op === sentence.op) return sentence;
  const plain = { mode: "by", point: null, keepVolume: false, uniform: false } as const;
  return withOnlyAxis({ ...withoutAmounts(sentence), ...plain, ...axisKindOf(op).begin, op }, sentence.lit);
}

/** By or To; some numbers are set in World or in Parent only. */
export function withMode(sentence: Sentence, mode: Mode): Sentence {
  const set = axisKindOf(sentence.op).spaces(mode) === "set";
  const space = set && sentence.space !== "parent" ? "world" : sentence.space;
  return { ...sentence, mode, space, keepVolume: mode === "by" && sentence.keepVolume };
}

/** An axis switched on or off; the last one stays on. Where one amount is taken, it is the only one. */
export function withAxisSwitched(sentence: Sentence, axis: AxisIndex): Sentence {
  if (axisKindOf(sentence.op).takesOne(sentence)) return withOnlyAxis(sentence, axis);
  const axes = each((i) => (i === axis ? !sentence.axes[i] : sentence.axes[i]));
  const first = axes.indexOf(true);
  if (first === -1) return sentence;
  const lit = axes[axis] ? axis : axes[sentence.lit] ? sentence.lit : (first as AxisIndex);
  return { ...sentence, axes, lit };
}

/** In a view along the lit axis, another that can be seen is lit, so that a nudge shows; what is typed is left alone. */
export function withAxisInSight(sentence: Sentence, inSight: readonly boolean[]): Sentence {
  const seen = AXIS_INDICES.filter((axis) => inSight[axis]);
  const typed = sentence.amounts.some((amount) => amount !== "");
  const { seenAcross } = axisKindOf(sentence.op);
  if (!seenAcross || typed || inSight[sentence.lit] || seen.length === 0) return sentence;
  return withOnlyAxis(sentence, seen.find((axis) => sentence.axes[axis]) ?? nth(seen, 0));
}

/** The sentence of a nudge: by one step size along the lit axis; a scaling grows or shrinks by it. */
export function nudgeSentence(
  { sentence, sizes }: { sentence: Sentence; sizes: Readonly<Record<AxisOp, number>> },
  way: 1 | -1,
): Sentence {
  const amount = axisKindOf(sentence.op).nudge(sizes[sentence.op], way);
  const alone = withOnlyAxis({ ...withoutAmounts(sentence), mode: "by" }, sentence.lit);
  return withAmount(alone, sentence.lit, String(amount));
}
