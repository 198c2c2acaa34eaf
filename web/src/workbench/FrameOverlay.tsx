// Choosing by a frame dragged over the view: it says how many it took, and whether any of them are hidden.
import { type PointerEvent, type RefObject, useState } from "react";
import { CHOOSING, changeSentence, setBench, useBench } from "../state/store";
import { counted } from "../ui/numbers";
import { Tick } from "../ui/parts";
import type { Framer } from "../view3d/FramePicker";

type Corner = { x: number; y: number };

export function FrameOverlay({ framer }: { framer: RefObject<Framer | null> }) {
  const [from, setFrom] = useState<Corner | null>(null);
  const [to, setTo] = useState<Corner | null>(null);
  const [through, setThrough] = useState(false);
  const at = (event: PointerEvent): Corner => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const take = (last: Corner) => {
    const first = from;
    setFrom(null);
    setTo(null);
    if (!first || !framer.current) return;
    const { seen, hidden } = framer.current({
      left: Math.min(first.x, last.x),
      right: Math.max(first.x, last.x),
      top: Math.min(first.y, last.y),
      bottom: Math.max(first.y, last.y),
    });
    const taken = through ? [...seen, ...hidden] : seen;
    const state = useBench.getState();
    changeSentence({ ...state.sentence, objects: taken });
    const rest =
      hidden.length === 0
        ? ""
        : through
          ? `, ${hidden.length} of them hidden behind other objects`
          : `; ${hidden.length} hidden objects left out`;
    setBench({ pointer: CHOOSING, notice: `Selected ${counted(taken.length, "object")}${rest}.` });
  };
  return (
    <div className="absolute inset-0">
      <div
        data-frame
        className="absolute inset-0 cursor-crosshair touch-none"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setFrom(at(event));
          setTo(at(event));
        }}
        onPointerMove={(event) => from && setTo(at(event))}
        onPointerUp={(event) => take(at(event))}
      />
      {from && to && (
        <div
          aria-hidden
          className="pointer-events-none absolute border border-plum bg-plum/10"
          style={{
            left: Math.min(from.x, to.x),
            top: Math.min(from.y, to.y),
            width: Math.abs(to.x - from.x),
            height: Math.abs(to.y - from.y),
          }}
        />
      )}
      <div className="absolute right-2 bottom-2 flex max-w-[calc(100%-7rem)] items-center gap-3 rounded-md border border-hairline bg-sheet px-3 py-1.5">
        Drag a box around the objects.
        <Tick id="frame-through" text="include hidden objects" on={through} onChange={setThrough} />
      </div>
    </div>
  );
}
