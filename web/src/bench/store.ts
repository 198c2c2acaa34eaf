// What belongs to the bench's view and not to the work: the sentence, the drag under way, the camera's fit.
import { create } from "zustand";
import type { Poses } from "../api/types";
import type { Fit } from "../view3d/camera";
import type { AxisIndex, Vec3 } from "../view3d/matrices";
import { FIRST_SENTENCE, type Sentence } from "./sentence";

/** A drag under way: how far along each axis of the space, and where that would take the objects. */
export type Drag = { axes: readonly AxisIndex[]; amounts: Vec3; changed: Poses };

type BenchState = {
  sentence: Sentence;
  drag: Drag | null;
  fit: Fit;
  /** The amounts of the last step done: until they are changed, undo means that step and not the typing. */
  done: Sentence["amounts"] | null;
  /** Why the last handle could not be dragged. */
  warning: string | null;
  change: (sentence: Sentence) => void;
  setDrag: (drag: Drag | null) => void;
  markDone: () => void;
  warn: (warning: string | null) => void;
  fitTo: (what: Fit["what"]) => void;
  reset: () => void;
};

const FIRST = {
  sentence: FIRST_SENTENCE,
  drag: null,
  done: null,
  warning: null,
  fit: { what: "work", turn: 0 } as Fit,
};

export const useBench = create<BenchState>((set) => ({
  ...FIRST,
  change: (sentence) => set({ sentence, warning: null }),
  setDrag: (drag) => set({ drag }),
  markDone: () => set((state) => ({ done: state.sentence.amounts })),
  warn: (warning) => set({ warning }),
  fitTo: (what) => set((state) => ({ fit: { what, turn: state.fit.turn + 1 } })),
  reset: () => set(FIRST),
}));
