// A drag of any handle as a step: previewed while it goes, done when let go, given up by Escape.
import { useCallback, useRef } from "react";
import type { Step } from "../api/types";
import { CHOOSING, dragOf, setBench, useBench } from "../state/store";
import type { HandleProps, Meaning } from "../steps/axisKind";
import { previewStep } from "../steps/preview";
import type { Setting } from "../steps/setting";
import type { DragActions } from "../view3d/useHandleDrag";

export function useStepDrag(setting: Setting, onStep: (step: Step) => void): HandleProps["drag"] {
  const start = useRef<unknown>(null);
  // A pointer can move several times a frame; only where it is when the frame is drawn counts.
  const next = useRef<(() => void) | null>(null);
  const frame = useRef(0);
  return useCallback(
    <Start>(meaning: Meaning<Start>): DragActions => {
      const settle = () => {
        cancelAnimationFrame(frame.current);
        next.current?.();
        next.current = null;
      };
      return {
        begin(ray, held) {
          const { lookOnly } = useBench.getState();
          if (lookOnly) {
            setBench({ warning: "Look only is on, so nothing can be moved. Switch it off to continue." });
            return false;
          }
          const begun = meaning.begin(ray, held);
          if ("why" in begun) {
            setBench({ warning: begun.why });
            return false;
          }
          start.current = begun.start;
          setBench({ pointer: { kind: "dragging", drag: null } });
          return true;
        },
        move(ray, held) {
          if (!next.current) frame.current = requestAnimationFrame(settle);
          next.current = () => {
            const { snapAlways } = useBench.getState();
            const found = meaning.step(ray, start.current as Start, {
              ...held,
              snap: held.snap || snapAlways,
            });
            const changed = found && previewStep(found.step, setting);
            if (changed) setBench({ pointer: { kind: "dragging", drag: { ...found, changed } } });
          };
        },
        take() {
          settle();
          const drag = dragOf(useBench.getState());
          setBench({ pointer: CHOOSING });
          if (drag) onStep(drag.step);
        },
        cancel() {
          next.current = null;
          setBench({ pointer: CHOOSING });
        },
      };
    },
    [setting, onStep],
  );
}
