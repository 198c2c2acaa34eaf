// The ground grid and the world's axes, in the exercise's conventions: the letters say which is which.
import { memo, useMemo } from "react";
import { BufferGeometry, Float32BufferAttribute } from "three";
import type { Bounds } from "./bounds";
import { useView } from "./context";
import { niceStep } from "./dragGeometry";
import { Label } from "./Label";
import { AXIS_INDICES, AXIS_NAMES, type AxisIndex, scaled, type Vec3, WORLD_AXES } from "./matrices";
import { Stroke } from "./Stroke";

const CELLS = 12; // each way from the origin
export const AXIS_TOKENS = ["axis-x", "axis-y", "axis-z"] as const;
export const AXIS_TEXT = ["text-axis-x", "text-axis-y", "text-axis-z"] as const;

export const Ground = memo(function Ground() {
  const { exercise, tokens, size } = useView();
  const step = niceStep(size / CELLS / 2);
  const upIndex = exercise.conventions.up === "y" ? 1 : 2;
  const grid = useMemo(() => gridGeometry(step, upIndex, exercise.plot), [step, upIndex, exercise.plot]);
  // A hair above the ground, so that it does not flicker with what lies on it; the axes a hair above the grid.
  const lift = scaled(WORLD_AXES[upIndex], size * 0.0005) as [number, number, number];
  return (
    <group position={lift}>
      <lineSegments geometry={grid}>
        <lineBasicMaterial color={tokens["scene-grid"]} />
      </lineSegments>
      {exercise.plot && (
        <Stroke
          points={plotEdge(exercise.plot, upIndex)}
          color={tokens["ink-soft"]}
          dash={[step / 4, step / 8]}
        />
      )}
      <group position={lift}>
        {AXIS_INDICES.map((axis) => (
          <WorldAxis key={axis} axis={axis} length={step * (axis === upIndex ? 2 : CELLS * 0.5)} />
        ))}
      </group>
    </group>
  );
});

function WorldAxis({ axis, length }: { axis: AxisIndex; length: number }) {
  const { tokens } = useView();
  const end = scaled(WORLD_AXES[axis], length) as [number, number, number];
  return (
    <>
      <Stroke points={[[0, 0, 0], end]} color={tokens[AXIS_TOKENS[axis]]} width={1.5} />
      <Label at={end}>
        <span className={`font-mono text-sm font-bold ${AXIS_TEXT[axis]}`}>{AXIS_NAMES[axis]}</span>
      </Label>
    </>
  );
}

/** The plot's edge, drawn on the ground. */
function plotEdge({ least, most }: Bounds, upIndex: 1 | 2): Vec3[] {
  const depth = upIndex === 1 ? 2 : 1;
  const corner = ([x]: Vec3, other: Vec3): Vec3 =>
    upIndex === 1 ? [x, 0, other[depth]] : [x, other[depth], 0];
  return [
    corner(least, least),
    corner(most, least),
    corner(most, most),
    corner(least, most),
    corner(least, least),
  ];
}

/** Lines on the ground, no farther than the plot: beyond its edge they would hang before what stands lower. */
function gridGeometry(step: number, upIndex: 1 | 2, plot: Bounds | null | undefined): BufferGeometry {
  const points: Vec3[] = [];
  const reach = CELLS * step;
  const at = (across: number, along: number): Vec3 =>
    upIndex === 1 ? [across, 0, along] : [across, along, 0];
  const end = (bound: "least" | "most", axis: number) => {
    const far = bound === "least" ? -reach : reach;
    return plot ? Math.max(-reach, Math.min(plot[bound][axis]!, reach)) : far;
  };
  const second = 3 - upIndex;
  const [left, right, near, far] = [
    end("least", 0),
    end("most", 0),
    end("least", second),
    end("most", second),
  ];
  for (let i = -CELLS; i <= CELLS; i++) {
    const place = i * step;
    if (place >= left && place <= right) points.push(at(place, near), at(place, far));
    if (place >= near && place <= far) points.push(at(left, place), at(right, place));
  }
  return new BufferGeometry().setAttribute("position", new Float32BufferAttribute(points.flat(), 3));
}
