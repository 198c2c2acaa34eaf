// The ground grid and the world's axes, in the exercise's conventions: the letters say which is which.
import { Html, Line } from "@react-three/drei";
import { useMemo } from "react";
import { BufferGeometry, Float32BufferAttribute } from "three";
import { useView } from "./context";
import { niceStep } from "./dragGeometry";
import { AXIS_INDICES, AXIS_NAMES, type AxisIndex, scaled, type Vec3, WORLD_AXES } from "./matrices";

const CELLS = 12; // each way from the origin
export const AXIS_TOKENS = ["axis-x", "axis-y", "axis-z"] as const;
export const AXIS_TEXT = ["text-axis-x", "text-axis-y", "text-axis-z"] as const;

export function Ground() {
  const { exercise, tokens, size } = useView();
  const step = niceStep(size / CELLS / 2);
  const upIndex = exercise.conventions.up === "y" ? 1 : 2;
  const grid = useMemo(() => gridGeometry(step, upIndex), [step, upIndex]);
  return (
    <>
      <lineSegments geometry={grid}>
        <lineBasicMaterial color={tokens["scene-grid"]} />
      </lineSegments>
      {AXIS_INDICES.map((axis) => (
        <WorldAxis key={axis} axis={axis} length={step * (axis === upIndex ? 2 : CELLS * 0.5)} />
      ))}
    </>
  );
}

function WorldAxis({ axis, length }: { axis: AxisIndex; length: number }) {
  const { tokens } = useView();
  const end = scaled(WORLD_AXES[axis], length) as [number, number, number];
  return (
    <>
      <Line points={[[0, 0, 0], end]} color={tokens[AXIS_TOKENS[axis]]} lineWidth={1.5} />
      <Html position={end} center zIndexRange={[4, 0]} style={{ pointerEvents: "none" }}>
        <span className={`font-mono text-sm font-bold ${AXIS_TEXT[axis]}`}>{AXIS_NAMES[axis]}</span>
      </Html>
    </>
  );
}

function gridGeometry(step: number, upIndex: 1 | 2): BufferGeometry {
  const points: Vec3[] = [];
  const reach = CELLS * step;
  const at = (across: number, along: number): Vec3 =>
    upIndex === 1 ? [across, 0, along] : [across, along, 0];
  for (let i = -CELLS; i <= CELLS; i++) {
    points.push(at(i * step, -reach), at(i * step, reach), at(-reach, i * step), at(reach, i * step));
  }
  return new BufferGeometry().setAttribute("position", new Float32BufferAttribute(points.flat(), 3));
}
