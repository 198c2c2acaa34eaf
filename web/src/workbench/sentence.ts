// The step sentence as a value: what its chips say, what step that makes, and what is still missing. Pure.
import type { Exercise, Reading as ObjectReading, Pivot, SceneObject, Space, Step } from "../api/types";
import { pointWords } from "../steps/features";
import { amountOf, readAmount } from "../ui/amount";
import { short } from "../ui/numbers";
import { listed } from "../ui/words";
import { AXIS_INDICES, AXIS_NAMES, type AxisIndex, type Vec3 } from "../view3d/matrices";

export type Operation = "move" | "rotate" | "scale";
export type Mode = "by" | "to";
type Each<T> = readonly [T, T, T];

/** The space chip: a word, or a space with its own data. "view" becomes the camera's directions when the step is made. */
export type SpaceChoice = Exclude<Space, { view: unknown }> | "view";

export type Sentence = {
  op: Operation;
  objects: readonly string[];
  mode: Mode;
  space: SpaceChoice;
  pivot: Pivot;
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
  axes: [true, false, false],
  lit: 0,
  amounts: ["", "", ""],
  uniform: false,
  keepVolume: false,
};

export type Directions = { right: Vec3; up: Vec3 };
export type Reading = { kind: "ready"; step: Step; words: string } | { kind: "not-ready"; why: string };

const VERBS = { move: "moves", rotate: "rotates", scale: "scales" };
const PIVOT_WORDS = {
  own: "its pivot",
  box: "the centre of its box",
  selection: "the middle of the chosen",
  origin: "the origin",
  marker: "the marker",
};

/** What Enter would do now, or why it does nothing. */
export function readSentence(
  sentence: Sentence,
  objects: readonly SceneObject[],
  conventions: Exercise["conventions"],
  view: Directions,
  readings: Readonly<Record<string, ObjectReading>> = {},
): Reading {
  const items = objects.filter((object) => sentence.objects.includes(object.id));
  const names = listed(items.map((item) => item.name));
  if (items.length === 0) return notReady("Choose an object: click it in the view or in the list.");
  const locked = items.find((item) => item.locked);
  if (locked) return notReady(`${locked.name} is locked and cannot be changed; choose another object.`);
  const axes = typedAxes(sentence);
  const typed = axes.filter((axis) => sentence.amounts[axis].trim() !== "");
  if (typed.length === 0) return notReady(invitation(sentence, names, items.length > 1));
  const values = AXIS_INDICES.map((axis) => (typed.includes(axis) ? amountOf(sentence.amounts[axis]) : null));
  const unread = typed.find((axis) => values[axis] === null);
  if (unread !== undefined) {
    const read = readAmount(sentence.amounts[unread]);
    return notReady(
      `The amount for ${letterOf(sentence, unread, conventions)} cannot be read: ${"why" in read ? read.why : ""}.`,
    );
  }
  const zero = sentence.op === "scale" && typed.find((axis) => values[axis] === 0);
  if (zero !== false && zero !== undefined)
    return notReady("A factor or size of 0 would flatten it to nothing.");
  const step = stepOf(sentence, values, view, anglesNow(sentence, readings));
  if ("why" in step) return notReady(step.why);
  return {
    kind: "ready",
    step,
    words: `Enter ${VERBS[sentence.op]} ${names} ${amountWords(step, conventions)} ${placeWords(step, sentence, objects)}.`,
  };
}

/** The angles that the chosen object has in the space that it is turned to; `null` where that is not one object's. */
function anglesNow(
  { objects, space }: Sentence,
  readings: Readonly<Record<string, ObjectReading>>,
): Each<number> | null {
  const reading = objects.length === 1 ? readings[objects[0]!] : undefined;
  if (!reading || (space !== "world" && space !== "parent")) return null;
  return reading[space].angles;
}

/** The letter of an axis, or, of angles to turn to, that of their order. */
export function letterOf(
  { op, mode }: Pick<Sentence, "op" | "mode">,
  axis: AxisIndex,
  conventions: Exercise["conventions"],
): string {
  return op === "rotate" && mode === "to" ? conventions.euler[axis]!.toUpperCase() : AXIS_NAMES[axis];
}

/** The axes that take an amount: of a turn by an angle, of a uniform scaling and of a kept volume it is one. */
export function typedAxes(sentence: Sentence): readonly AxisIndex[] {
  if (sentence.op === "rotate" && sentence.mode === "to") return AXIS_INDICES;
  if (takesOneAmount(sentence)) return [sentence.lit];
  return AXIS_INDICES.filter((axis) => sentence.axes[axis]);
}

export function takesOneAmount({ op, mode, uniform, keepVolume }: Sentence): boolean {
  return (op === "rotate" && mode === "by") || (op === "scale" && (uniform || (keepVolume && mode === "by")));
}

/** Whether the chips for the space and for the pivot say anything about this step. */
export function takesSpace({ op, mode }: Sentence): boolean {
  return !(op === "scale" && mode === "to");
}

export function takesPivot({ op, mode }: Sentence): boolean {
  return op === "scale" || (op === "rotate" && mode === "by");
}

function invitation(sentence: Sentence, names: string, several: boolean): string {
  const axis = AXIS_NAMES[sentence.lit];
  if (sentence.op === "move" && sentence.mode === "to")
    return `Type where ${names} ${several ? "come" : "comes"} to along ${axis}.`;
  if (sentence.op === "move")
    return `Type how far ${names} ${several ? "go" : "goes"} along ${axis}, or drag a rail.`;
  if (sentence.op === "rotate") {
    return sentence.mode === "by"
      ? `Type the angle that ${names} ${several ? "turn" : "turns"} about ${axis}, or drag a ring.`
      : `Type the angles that ${names} ${several ? "are" : "is"} to have; what is left empty stays.`;
  }
  return sentence.mode === "by"
    ? `Type the factor for ${sentence.uniform ? "all axes" : axis} of ${names}, or drag a square bead.`
    : `Type the size that ${names} ${several ? "are" : "is"} to have along ${axis}.`;
}

/** The amounts of a step in words: what is done is what is said. */
function amountWords(step: Step, conventions: Exercise["conventions"]): string {
  const length = (value: number) => `${short(value)} ${conventions.length}`;
  const angle = (value: number) =>
    conventions.angle === "deg" ? `${short(value)}°` : `${short(value)} ${conventions.angle}`;
  const along = (values: readonly (number | null)[], none: number | null, words: (value: number) => string) =>
    AXIS_INDICES.flatMap((axis) => {
      const value = values[axis]!;
      return value === none ? [] : [`${words(value)} along ${AXIS_NAMES[axis]}`];
    });
  const to = (values: readonly (number | null)[], letters: string, words: (value: number) => string) =>
    AXIS_INDICES.flatMap((axis) =>
      values[axis] == null ? [] : [`${letters[axis]} ${words(values[axis]!)}`],
    );
  if (step.op === "move")
    return step.to
      ? `to ${listed(to(step.to, "XYZ", length))}`
      : `by ${amounts(along(step.by!, 0, length), length(0))}`;
  if (step.op === "rotate") {
    if (step.to) return `to ${listed(to(step.to, conventions.euler.toUpperCase(), angle))}`;
    return `by ${angle(step.angle!)} about ${String(step.axis).toUpperCase()}`;
  }
  if (step.op !== "scale") return "";
  if (step.to) return `to ${listed(to(step.to, "XYZ", length))}${step.uniform ? ", the rest alike," : ""}`;
  if (step.keep_volume)
    return `by ${short(step.keep_volume.factor)} along ${step.keep_volume.axis.toUpperCase()}, keeping its volume,`;
  const [x, y, z] = step.by!;
  return x === y && y === z ? `by ${short(x)} on all axes` : `by ${amounts(along(step.by!, 1, short), "1")}`;
}

function amounts(parts: readonly string[], nothing: string): string {
  return parts.length > 0 ? listed(parts) : nothing;
}

function placeWords(step: Step, sentence: Sentence, objects: readonly SceneObject[]): string {
  const even = step.op === "scale" && (step.to || (step.by && new Set(step.by).size === 1));
  const space =
    !even && "space" in step && step.space !== undefined && step.space !== null
      ? `of ${spaceWords(typeof step.space === "object" && "view" in step.space ? "view" : step.space, objects)}`
      : "";
  if (!takesPivot(sentence) || !("pivot" in step)) return space;
  return `${space} ${step.op === "rotate" ? "through" : "holding"} ${pivotWords(step.pivot ?? "own", objects)}`.trim();
}

export function spaceWords(space: SpaceChoice, objects: readonly SceneObject[]): string {
  if (typeof space === "string") return space[0]!.toUpperCase() + space.slice(1);
  if ("object" in space)
    return `the axes of ${objects.find((item) => item.id === space.object)?.name ?? space.object}`;
  return `the line from ${pointWords(space.line[0], objects)} to ${pointWords(space.line[1], objects)}`;
}

export function pivotWords(pivot: Pivot, objects: readonly SceneObject[]): string {
  return typeof pivot === "string" ? PIVOT_WORDS[pivot] : pointWords(pivot, objects);
}

function stepOf(
  sentence: Sentence,
  values: readonly (number | null)[],
  view: Directions,
  angles: Each<number> | null,
): Step | { why: string } {
  const space = spaceOf(sentence.space, view);
  const head = { objects: [...sentence.objects], entry: "typed" as const };
  const { op, mode, pivot } = sentence;
  if (op === "move") {
    return mode === "by"
      ? { op, ...head, space, by: filled(values, 0) }
      : { op, ...head, space, to: values as [number | null, number | null, number | null] };
  }
  if (op === "rotate") {
    if (mode === "to") {
      if (space !== "world" && space !== "parent")
        return { why: "The angles to turn to are those in World or in Parent; choose one of these." };
      const to = values.map((value, axis) => value ?? angles?.[axis] ?? null);
      if (to.includes(null))
        return { why: "Type all three angles: those of several objects differ, so none can stay." };
      return { op, ...head, space, pivot: "own", to: to as [number, number, number] };
    }
    return {
      op,
      ...head,
      space,
      axis: "xyz"[sentence.lit] as "x" | "y" | "z",
      angle: values[sentence.lit]!,
      pivot,
    };
  }
  if (mode === "to") {
    return {
      op,
      ...head,
      space: "local",
      to: values as [number | null, number | null, number | null],
      uniform: sentence.uniform,
      pivot,
    };
  }
  const one = values[sentence.lit]!;
  if (sentence.keepVolume) {
    return {
      op,
      ...head,
      space,
      keep_volume: { axis: "xyz"[sentence.lit] as "x" | "y" | "z", factor: one },
      uniform: false,
      pivot,
    };
  }
  return {
    op,
    ...head,
    space,
    by: sentence.uniform ? [one, one, one] : filled(values, 1),
    uniform: false,
    pivot,
  };
}

export function spaceOf(space: SpaceChoice, view: Directions): Space {
  return space === "view" ? { view: { right: [...view.right], up: [...view.up] } } : space;
}

function filled(values: readonly (number | null)[], otherwise: number): [number, number, number] {
  return values.map((value) => value ?? otherwise) as [number, number, number];
}

function notReady(why: string): Reading {
  return { kind: "not-ready", why };
}

/** Another operation: the amounts meant something else, and a turn is about one axis. */
export function withOperation(sentence: Sentence, op: Operation): Sentence {
  if (op === sentence.op) return sentence;
  const pivot = op === "move" ? "own" : sentence.pivot;
  // Own sizes are what is scaled: along other axes a turned solid would be skewed.
  const space = op === "scale" && sentence.op !== "scale" ? "local" : sentence.space;
  return withOnlyAxis(
    { ...withoutAmounts(sentence), op, pivot, space, mode: "by", keepVolume: false, uniform: false },
    sentence.lit,
  );
}

/** By or To; angles are set in World or in Parent. */
export function withMode(sentence: Sentence, mode: Mode): Sentence {
  const set = sentence.op === "rotate" && mode === "to";
  const space = set && sentence.space !== "parent" ? "world" : sentence.space;
  return { ...sentence, mode, space, keepVolume: mode === "by" && sentence.keepVolume };
}

/** One axis alone. */
export function withOnlyAxis(sentence: Sentence, axis: AxisIndex): Sentence {
  return { ...sentence, axes: each((i) => i === axis), lit: axis };
}

/** Only these axes, the first of them lit. */
export function withAxes(sentence: Sentence, axes: readonly AxisIndex[]): Sentence {
  return { ...sentence, axes: each((i) => axes.includes(i)), lit: axes[0]! };
}

/** An axis switched on or off; the last one stays on. Where one amount is taken, it is the only one. */
export function withAxisSwitched(sentence: Sentence, axis: AxisIndex): Sentence {
  if (takesOneAmount(sentence)) return withOnlyAxis(sentence, axis);
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
  if (sentence.op === "rotate" || typed || inSight[sentence.lit] || seen.length === 0) return sentence;
  return withOnlyAxis(sentence, seen.find((axis) => sentence.axes[axis]) ?? seen[0]!);
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

/** The sentence of a nudge: by one step size along the lit axis; a scaling grows or shrinks by it. */
export function nudgeSentence(
  { sentence, sizes }: { sentence: Sentence; sizes: Readonly<Record<Operation, number>> },
  way: 1 | -1,
): Sentence {
  const size = sizes[sentence.op];
  const amount = sentence.op === "scale" ? (way > 0 ? 1 + size : 1 / (1 + size)) : way * size;
  const alone = withOnlyAxis({ ...withoutAmounts(sentence), mode: "by" }, sentence.lit);
  return withAmount(alone, sentence.lit, String(amount));
}
