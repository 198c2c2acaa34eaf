// What belongs to the bench's view and not to the work: the sentence, the drag under way, how the scene is looked at.
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

/** What a step that is not done yet would do, as the core tells it; why: the sentence that says why it cannot. */
export type Ghost = { step: Step; told: StepView | null; why: string };

export type Sizes = Readonly<Record<AxisOp, number>>;

type BenchState = {
  sentence: Sentence;
  /** A sentence of another kind than move, rotate and scale, in the place of it. */
  more: MoreSentence | null;
  /** The last kinds used under More, the newest first. */
  recent: readonly MoreOp[];
  /** What was set last for kinds whose key does them at once. */
  last: Readonly<Partial<Record<MoreOp, Values<MoreOp>>>>;
  /** The step that the line of text says, while it stands open. */
  said: Step | null;
  ghost: Ghost | null;
  /** The two points of what is measured just now, in world. */
  measured: Measured["points"];
  /** Where what is only tried begins in the list of steps. */
  trial: number | null;
  /** Whether the step was just done, so that its repetition is not shown before it is asked for. */
  quiet: boolean;
  pointer: Pointer;
  fit: Fit;
  main: Side;
  flat: boolean;
  shading: Shading;
  /** Whether soft footprints are drawn under all solids. */
  footprints: boolean;
  /** Where the camera's right and up point in the exercise's axes. */
  directions: Directions;
  lookOnly: boolean;
  /** Snap and nudge sizes: lengths, angles in the exercise's unit, factors. */
  sizes: Sizes;
  snapAlways: boolean;
  /** Whether the sentence stands as a line of text too. */
  asText: boolean;
  /** How many steps are looked at, where that is not the work as it stands. */
  looking: number | null;
  /** The amounts of the last step done: until they are changed, undo means that step and not the typing. */
  done: Sentence["amounts"] | null;
  /** Why the last handle could not be dragged. */
  warning: string | null;
  /** What the last choice took: nothing went wrong. */
  notice: string | null;
  change: (sentence: Sentence) => void;
  set: (part: Partial<BenchState>) => void;
  markDone: () => void;
  fitTo: (what: Fit["what"]) => void;
  reset: () => void;
};

const FIRST = {
  sentence: FIRST_SENTENCE,
  more: null,
  recent: [] as readonly MoreOp[],
  last: {},
  said: null,
  ghost: null,
  quiet: false,
  trial: null as number | null,
  measured: null as Measured["points"],
  pointer: CHOOSING,
  done: null,
  warning: null,
  notice: null,
  fit: { what: "work", turn: 0 } as Fit,
  main: "free" as Side,
  flat: false,
  shading: "shaded" as Shading,
  footprints: false,
  directions: { right: [1, 0, 0], up: [0, 1, 0] } as Directions,
  lookOnly: false,
  sizes: { move: 0.1, rotate: 15, scale: 0.1 },
  snapAlways: false,
  asText: false,
  looking: null,
};

export const useBench = create<BenchState>((set) => ({
  ...FIRST,
  change: (sentence) => set({ sentence, warning: null, notice: null, quiet: false }),
  set: (part) => set(part),
  markDone: () => set((state) => ({ done: state.sentence.amounts })),
  fitTo: (what) => set((state) => ({ fit: { what, turn: state.fit.turn + 1 } })),
  reset: () => set(FIRST),
}));

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
