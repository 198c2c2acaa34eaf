// Pointer events of a handle as a small state machine: idle → dragging → taken or cancelled.
import { type ThreeEvent, useThree } from "@react-three/fiber";
import { useEffect, useEffectEvent, useState } from "react";
import type { OrbitControls as Controls } from "three-stdlib";
import { useView } from "./context";
import type { Ray } from "./dragGeometry";
import { worldRay } from "./picture";

export type DragActions = {
  /** The pointer went down; the answer says whether a drag can begin. */
  begin: (ray: Ray, held: Held) => boolean;
  move: (ray: Ray, held: Held) => void;
  take: () => void;
  cancel: () => void;
};

/** Modifier keys held: Shift keeps to the snap step, Alt works on both sides. */
export type Held = { snap: boolean; both: boolean };

type Phase = "idle" | "dragging";

export function useHandleDrag(actions: DragActions) {
  const { exercise } = useView();
  const controls = useThree((state) => state.controls) as Controls | null;
  const [hovered, setHovered] = useState(false);
  const [phase, setPhase] = useState<Phase>("idle");

  const end = (outcome: "take" | "cancel") => {
    setPhase("idle");
    if (controls) controls.enabled = true;
    actions[outcome]();
  };
  const cancel = useEffectEvent(() => {
    if (phase === "dragging") end("cancel");
  });

  // A handle that is unmounted during a drag cancels it, so that the camera can turn again.
  useEffect(() => () => cancel(), []);

  useEffect(() => {
    if (phase !== "dragging") return;
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== "Escape") return;
      event.stopPropagation();
      cancel();
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  }, [phase]);

  const handlers = {
    onPointerOver: (event: ThreeEvent<PointerEvent>) => {
      event.stopPropagation();
      setHovered(event.buttons === 0); // another handle's drag may pass over this one
    },
    onPointerOut: () => setHovered(false),
    onClick: (event: ThreeEvent<MouseEvent>) => event.stopPropagation(), // what lies behind is not chosen
    onPointerDown: (event: ThreeEvent<PointerEvent>) => {
      if (event.button !== 0) return;
      event.stopPropagation();
      if (!actions.begin(worldRay(exercise, event.ray), held(event))) return;
      (event.target as Element).setPointerCapture(event.pointerId);
      if (controls) controls.enabled = false;
      setPhase("dragging");
    },
    onPointerMove: (event: ThreeEvent<PointerEvent>) => {
      if (phase === "dragging") actions.move(worldRay(exercise, event.ray), held(event));
    },
    onPointerUp: () => {
      if (phase === "dragging") end("take");
    },
    onPointerCancel: () => {
      if (phase === "dragging") end("cancel");
    },
  };
  return { handlers, active: hovered || phase === "dragging" };
}

function held(event: ThreeEvent<PointerEvent>): Held {
  return { snap: event.shiftKey, both: event.altKey };
}
