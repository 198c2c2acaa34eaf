// What a kind whose sentence is built of axes and amounts is on the screen: one file each, beside the other kinds.
import type { ComponentType } from "react";
import type { Exercise, Reading, SceneObject, Step } from "../api/types";
import type { AxisOp, Mode, Sentence, StepOf } from "../state/sentence";
import type { Ray } from "../view3d/dragGeometry";
import type { Axes, AxisIndex, Matrix16, Vec3 } from "../view3d/matrices";
import type { DragActions, Held } from "../view3d/useHandleDrag";
import type { Setting } from "./setting";

export type Conventions = Exercise["conventions"];

/** One number of a step that can be edited in place: what it is called, its value, and the step with another. */
export type StepNumber = { label: string; value: number; with: (value: number) => Step };

/** What a sentence says, read: one value an axis, `null` where nothing is typed. */
export type Said = {
  sentence: Sentence;
  values: readonly (number | null)[];
  space: StepOf<AxisOp>["space"];
  /** What the chosen object reads now; `undefined` where several are chosen. */
  reading: Reading | undefined;
};

export type AxisKind<O extends AxisOp> = {
  name: string;
  /** "moves", as the foot of the bench says what Enter does. */
  verb: string;
  key: string;
  /** The unit of an amount, as it stands behind a number, a space in front where it is a word. */
  unit: (mode: Mode, conventions: Conventions) => string;
  /** The same behind a size of snap and nudge. */
  sizeUnit: (conventions: Conventions) => string;
  /** The letters of its three amounts. */
  letters: (mode: Mode, conventions: Conventions) => string;
  /** Whether one amount is all it takes. */
  takesOne: (sentence: Sentence) => boolean;
  /** Whether an amount of each axis is taken, whatever is switched on. */
  takesAll: (mode: Mode) => boolean;
  /** Whether an amount moves things along its axis, so that it cannot be seen from the axis' end. */
  seenAcross: boolean;
  /** The spaces that it goes along: all, only those that numbers are set in, or none. */
  spaces: (mode: Mode) => "all" | "set" | "none";
  /** The word before the pivot; `null` where it has none. */
  pivotWord: (mode: Mode) => string | null;
  /** What a sentence of this kind begins with, after one of another. */
  begin: Partial<Sentence>;
  /** What is to be typed, as a sentence. */
  invitation: (sentence: Sentence, names: string, several: boolean) => string;
  make: (said: Said) => Omit<StepOf<O>, "objects" | "entry"> | string;
  /** What the step does, in amounts: "by 2 m along X". */
  words: (step: StepOf<O>, conventions: Conventions) => string;
  /** Whether the directions of the space make a difference to this step. */
  hasDirections: (step: StepOf<O>) => boolean;
  /** What the fields of a To show before anything is typed. */
  now: (reading: Reading, space: Sentence["space"]) => readonly number[] | null;
  /** Chips of its own, behind the amounts. */
  Extras: ComponentType<{ objects: readonly SceneObject[] }> | null;
  /** Sizes of snap and nudge, the greatest first, in metres or turns or as factors; and the one to begin with. */
  sizes: readonly number[];
  firstSize: number;
  perUnit: (conventions: Conventions) => number;
  /** The amount of a nudge by one step size. */
  nudge: (size: number, way: 1 | -1) => number;
  numbers: (step: StepOf<O>) => StepNumber[];
  /** The motion of the world that a step is for one object, W′ = motion · W; `null` where only the core can tell. */
  motion: (step: StepOf<O>, setting: Setting, id: string, ids: readonly string[]) => Matrix16 | null;
  /** Whether the handles go along with what they move, or stay at the pivot. */
  handlesFollow: boolean;
  Handles: ComponentType<HandleProps>;
};

/** What a drag means to one handle. `Start` is where the pointer took hold. */
export type Meaning<Start> = {
  /** Where the pointer took hold, or why the view cannot tell. */
  begin: (ray: Ray, held: Held) => { start: Start } | { why: string };
  /** The step as dragged so far and its amount in words; `null` where the view no longer tells, or nothing is done. */
  step: (ray: Ray, start: Start, held: Held) => { step: Step; amount: string } | null;
};

export type HandleProps = {
  setting: Setting;
  /** The object that the handles stand at, of those that are acted on. */
  primary: string;
  ids: readonly string[];
  axes: Axes;
  centre: Vec3;
  worldPerPixel: number;
  drag: <Start>(meaning: Meaning<Start>) => DragActions;
};

export type Three = [number, number, number];
export type SomeOfThree = [number | null, number | null, number | null];

/** What a step for one object says, whose numbers were typed. */
export function typedFor(id: string): { objects: string[]; entry: "typed" } {
  return { objects: [id], entry: "typed" };
}

/** The numbers of three fields of a step, by axis; what is not set is left out. */
export function threeNumbers<T extends number | null>(
  word: string,
  values: readonly [T, T, T],
  made: (values: [T, T, T]) => Step,
): StepNumber[] {
  return values.flatMap((value, i) =>
    value === null
      ? []
      : [
          {
            label: `${word} ${"XYZ"[i]}`,
            value: value as number,
            with: (next) => made(values.map((old, j) => (i === j ? next : old)) as [T, T, T]),
          },
        ],
  );
}

/** Values by axis, those that are not typed as if they were this. */
export function filled(values: readonly (number | null)[], otherwise: number): Three {
  return values.map((value) => value ?? otherwise) as Three;
}

export function axisLetter(axis: AxisIndex): "x" | "y" | "z" {
  return "xyz"[axis] as "x" | "y" | "z";
}
