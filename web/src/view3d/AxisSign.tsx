// The sign in the corner: where the exercise's X, Y and Z point, as the camera stands now.
import { useFrame } from "@react-three/fiber";
import { type RefObject, useRef } from "react";
import { Vector3 } from "three";
import { nth } from "../ui/lists";
import { useView } from "./context";
import { AXIS_INDICES, AXIS_NAMES, turned, WORLD_AXES } from "./matrices";

const ARM = 24;
const SIZE = 76;
const MIDDLE = SIZE / 2;
const STROKES = ["stroke-axis-x", "stroke-axis-y", "stroke-axis-z"] as const;
const FILLS = ["fill-axis-x", "fill-axis-y", "fill-axis-z"] as const;

export function AxisSign({ sign }: { sign: RefObject<SVGSVGElement | null> }) {
  return (
    <svg
      ref={sign}
      width={SIZE}
      height={SIZE}
      aria-hidden
      className="pointer-events-none absolute bottom-2 left-2"
    >
      {AXIS_INDICES.map((axis) => (
        <g key={axis}>
          <line x1={MIDDLE} y1={MIDDLE} x2={MIDDLE} y2={MIDDLE} strokeWidth={2} className={STROKES[axis]} />
          <text textAnchor="middle" fontSize={12} className={`font-mono font-bold ${FILLS[axis]}`}>
            {AXIS_NAMES[axis]}
          </text>
        </g>
      ))}
    </svg>
  );
}

/** Turns the sign with each drawn frame: the camera turns without the page being told. */
export function FollowCamera({ sign }: { sign: RefObject<SVGSVGElement | null> }) {
  const { exercise } = useView();
  const seen = useRef(new Vector3());
  useFrame(({ camera }) => {
    const parts = sign.current?.children;
    if (!parts) return;
    for (const axis of AXIS_INDICES) {
      const [line, letter] = nth(parts, axis).children;
      if (!line || !letter) continue;
      const { x, y } = seen.current
        .set(...turned(exercise.picture_from_world, WORLD_AXES[axis]))
        .transformDirection(camera.matrixWorldInverse);
      line.setAttribute("x2", (MIDDLE + x * ARM).toFixed(1));
      line.setAttribute("y2", (MIDDLE - y * ARM).toFixed(1));
      letter.setAttribute("x", (MIDDLE + x * (ARM + 9)).toFixed(1));
      letter.setAttribute("y", (MIDDLE - y * (ARM + 9) + 4).toFixed(1));
    }
  });
  return null;
}
