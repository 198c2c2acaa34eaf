// The state of the bench that is not the work, in three slices: the sentence, the pointer and the view.
import { create } from "zustand";
import { useShallow } from "zustand/react/shallow";
import type { Measured, Point, Poses, Step, StepView } from "../api/types";
import type { Directions, Fit } from "../view3d/camera";
import type { Side } from "../view3d/elevations";
import {
  type AxisOp,
  FIRST_SENTENCE,
  type MoreOp,
  type MoreSentence,
  type Sentence,
  type SpaceChoice,
  type StepOf,
  type Values,
} from "./sentence";

/** A drag under way: the step it would be, its amount in words, and where it would take the objects. */
export type Drag = { step: Step; amount: string; changed: Poses };

export type Shading = "shaded" | "see-through" | "wireframe";

/** A point looked for in the view. on: whose dots are shown; back: the chip that the focus goes back to. */
export type Picking = { kind: "picking"; on: string | null; back: string } & (
  | { what: "point"; take: (point: Point) => void }
  | { what: "edge"; take: (space: SpaceChoice) => void }
  | { what: "contact"; take: (on: StepOf<"put">["on"]) => void }
);

/** What the pointer is for in the view: choosing, a frame around what is chosen, picking a point, or a handle held. */
export type Pointer =
  | { kind: "choosing" }
  | { kind: "framing" }
  | Picking
  | { kind: "dragging"; drag: Drag | null };

export const CHOOSING: Pointer = { kind: "choosing" };

export type Sizes = Readonly<Record<AxisOp, number>>;

/** The sentence that is being built, and what is known about it. */
type SentenceSlice = {
  sentence: Sentence;
  /** A sentence of another kind than move, rotate and scale, in the place of it. */
  more: MoreSentence | null;
  /** The last kinds used under More, the newest first. */
  recent: readonly MoreOp[];
  /** The last values of kinds whose key applies them at once. */
  last: Readonly<Partial<Record<MoreOp, Values<MoreOp>>>>;
  /** Whether the sentence is shown as a line of text too. */
  asText: boolean;
  /** The step that the line of text says, while it is open. */
  said: Step | null;
  /** What the step in the sentence would do. */
  ghost: StepView | null;
  /** Whether the step was just done, so that its repetition is not previewed before it is asked for. */
  quiet: boolean;
  /** The amounts of the last step done: until they are changed, undo means that step and not the typing. */
  done: Sentence["amounts"] | null;
  /** Snap and nudge sizes: lengths, angles in the exercise's unit, factors. */
  sizes: Sizes;
  snapAlways: boolean;
};

type PointerSlice = {
  pointer: Pointer;
  /** Why the last handle could not be dragged. */
  warning: string | null;
  /** What the last selection took: nothing went wrong. */
  notice: string | null;
};

/** How the scene is looked at. */
type ViewSlice = {
  fit: Fit;
  main: Side;
  flat: boolean;
  shading: Shading;
  /** Whether soft footprints are drawn under all solids. */
  footprints: boolean;
  /** Where the camera's right and up point in the exercise's axes. */
  directions: Directions;
  lookOnly: boolean;
  /** The number of steps that are shown, if it is not the work as it stands. */
  looking: number | null;
  /** The index of the first step on trial. */
  trial: number | null;
  /** The two points of the current measurement, in world. */
  measured: Measured["points"];
};

type BenchState = SentenceSlice & PointerSlice & ViewSlice;

const FIRST_OF_SENTENCE: SentenceSlice = {
  sentence: FIRST_SENTENCE,
  more: null,
  recent: [],
  last: {},
  asText: false,
  said: null,
  ghost: null,
  quiet: false,
  done: null,
  sizes: { move: 0.1, rotate: 15, scale: 0.1 },
  snapAlways: false,
};

const FIRST_OF_POINTER: PointerSlice = { pointer: CHOOSING, warning: null, notice: null };

const FIRST_OF_VIEW: ViewSlice = {
  fit: { what: "work", turn: 0 },
  main: "free",
  flat: false,
  shading: "shaded",
  footprints: false,
  directions: { right: [1, 0, 0], up: [0, 1, 0] },
  lookOnly: false,
  looking: null,
  trial: null,
  measured: null,
};

export const useBench = create<BenchState>(() => ({
  ...FIRST_OF_SENTENCE,
  ...FIRST_OF_POINTER,
  ...FIRST_OF_VIEW,
}));

export function setBench(part: Partial<BenchState>): void {
  useBench.setState(part);
}

export function changeSentence(sentence: Sentence): void {
  setBench({ sentence, warning: null, notice: null, quiet: false });
}

export function markDone(): void {
  setBench({ done: useBench.getState().sentence.amounts });
}

export function fitTo(what: Fit["what"]): void {
  setBench({ fit: { what, turn: useBench.getState().fit.turn + 1 } });
}

export function resetBench(): void {
  setBench(useBench.getInitialState());
}

/** Some parts of the store: only a change of one of them draws the caller anew, and a drag changes one sixty times a second. */
export function useBenchParts<K extends keyof BenchState>(...keys: K[]): Pick<BenchState, K> {
  return useBench(
    useShallow((state) => Object.fromEntries(keys.map((key) => [key, state[key]])) as Pick<BenchState, K>),
  );
}

/** Some parts of the sentence: what is drawn in the view is not drawn anew for each digit that is typed. */
export function useSentenceParts<K extends keyof Sentence>(...keys: K[]): Pick<Sentence, K> {
  return useBench(
    useShallow(
      ({ sentence }) => Object.fromEntries(keys.map((key) => [key, sentence[key]])) as Pick<Sentence, K>,
    ),
  );
}

/** The drag under way, once it would do something. */
export function dragOf({ pointer }: Pick<BenchState, "pointer">): Drag | null {
  return pointer.kind === "dragging" ? pointer.drag : null;
}
