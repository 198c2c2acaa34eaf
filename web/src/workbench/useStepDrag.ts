// A drag of any handle as a step: previewed while it goes, done when let go, given up by Escape.
import { useRef } from "react";
import type { Step } from "../api/types";
import type { Ray } from "../view3d/dragGeometry";
import type { DragActions, Held } from "../view3d/useHandleDrag";
import { previewStep, type Setting } from "./preview";
import { CHOOSING, dragOf, useBench } from "./store";

/** What a drag means to one handle. `Start` is where the pointer took hold. */
export type Meaning<Start> = {
  /** Where the pointer took hold, or why the view cannot tell. */
  begin: (ray: Ray, held: Held) => { start: Start } | { why: string };
  /** The step as dragged so far and its amount in words; `null` where the view no longer tells, or nothing is done. */
  step: (ray: Ray, start: Start, held: Held) => { step: Step; amount: string } | null;
};

export function useStepDrag(setting: Setting, onStep: (step: Step) => void) {
  const start = useRef<unknown>(null);
  // A pointer can move several times a frame; only where it is when the frame is drawn counts.
  const next = useRef<(() => void) | null>(null);
  const frame = useRef(0);
  const settle = () => {
    cancelAnimationFrame(frame.current);
    next.current?.();
    next.current = null;
  };
  return <Start>(meaning: Meaning<Start>): DragActions => ({
    begin(ray, held) {
      const { lookOnly, set } = useBench.getState();
      if (lookOnly) {
        set({ warning: "Look only is on, so nothing can be moved; switch it off to go on." });
        return false;
      }
      const begun = meaning.begin(ray, held);
      if ("why" in begun) {
        set({ warning: begun.why });
        return false;
      }
      start.current = begun.start;
      set({ pointer: { kind: "dragging", drag: null } });
      return true;
    },
    move(ray, held) {
      if (!next.current) frame.current = requestAnimationFrame(settle);
      next.current = () => {
        const { snapAlways, set } = useBench.getState();
        const found = meaning.step(ray, start.current as Start, { ...held, snap: held.snap || snapAlways });
        const changed = found && previewStep(found.step, setting);
        if (changed) set({ pointer: { kind: "dragging", drag: { ...found, changed } } });
      };
    },
    take() {
      settle();
      const drag = dragOf(useBench.getState());
      useBench.getState().set({ pointer: CHOOSING });
      if (drag) onStep(drag.step);
    },
    cancel() {
      next.current = null;
      useBench.getState().set({ pointer: CHOOSING });
    },
  });
}
