// A ring: the handle to turn by, with ticks at the snap step; while dragged, the angle gone through is drawn.
import { useMemo } from "react";
import { BufferGeometry, DoubleSide, Float32BufferAttribute, Matrix4, Quaternion, Vector3 } from "three";
import { Label } from "./Label";
import { cross, type Vec3 } from "./matrices";
import { hitRadius } from "./touch";
import { type DragActions, useHandleDrag } from "./useHandleDrag";

// Pixels.
const WIDTH = 1.3;
const HIT = hitRadius(12);
const SIDES = 72;

type Props = {
  name: string;
  letter: string;
  letterClass: string;
  /** Where on the ring the letter stands, from `zero`. */
  letterRad: number;
  axis: Vec3;
  zero: Vec3;
  radius: number;
  colour: string;
  lit: boolean;
  /** Angle between ticks; none where it is 0. */
  tickRad: number;
  /** Where a drag under way began, and how far it went; `null` where none is. */
  sweep: { fromRad: number; byRad: number } | null;
  actions: DragActions;
};

export function Ring({
  name,
  letter,
  letterClass,
  letterRad,
  axis,
  zero,
  radius,
  colour,
  lit,
  tickRad,
  sweep,
  actions,
}: Props) {
  const { handlers, active } = useHandleDrag(actions);
  const turn = useMemo(() => turnOf(axis, zero), [axis, zero]);
  const ticks = useMemo(() => tickGeometry(radius, tickRad), [radius, tickRad]);
  const strength = active || lit ? 0.95 : 0.4;
  const paint = { color: colour, transparent: true, opacity: strength, depthTest: false };
  const width = active || lit ? WIDTH * 1.4 : WIDTH;
  return (
    <group quaternion={turn}>
      <mesh renderOrder={10}>
        <torusGeometry args={[radius, width, 6, SIDES]} />
        <meshBasicMaterial {...paint} />
      </mesh>
      <lineSegments geometry={ticks} renderOrder={10}>
        <lineBasicMaterial {...paint} />
      </lineSegments>
      {sweep && <Sweep radius={radius} colour={colour} {...sweep} />}
      <mesh {...handlers}>
        <torusGeometry args={[radius, HIT, 6, SIDES / 2]} />
        <meshBasicMaterial transparent opacity={0} depthWrite={false} colorWrite={false} />
      </mesh>
      <Label fixed at={[radius * Math.cos(letterRad), radius * Math.sin(letterRad), 0]}>
        <span
          data-handle={name}
          className={`rounded-full bg-paper/70 px-0.5 font-mono font-bold ${letterClass}`}
        >
          {letter}
        </span>
      </Label>
    </group>
  );
}

function Sweep({
  radius,
  colour,
  fromRad,
  byRad,
}: {
  radius: number;
  colour: string;
  fromRad: number;
  byRad: number;
}) {
  const shown = Math.max(-2 * Math.PI, Math.min(2 * Math.PI, byRad));
  return (
    <mesh renderOrder={9}>
      <circleGeometry args={[radius, SIDES, shown < 0 ? fromRad + shown : fromRad, Math.abs(shown)]} />
      <meshBasicMaterial color={colour} transparent opacity={0.22} depthTest={false} side={DoubleSide} />
    </mesh>
  );
}

/** The turn that brings the ring's own X to zero and its Z to the axis; in left-handed pictures Y is what is left. */
function turnOf(axis: Vec3, zero: Vec3): Quaternion {
  const second = cross(axis, zero);
  const basis = new Matrix4().makeBasis(new Vector3(...zero), new Vector3(...second), new Vector3(...axis));
  return new Quaternion().setFromRotationMatrix(basis);
}

function tickGeometry(radius: number, tickRad: number): BufferGeometry {
  const points: number[] = [];
  const count = tickRad > 0 ? Math.floor((2 * Math.PI) / tickRad + 1e-6) : 0;
  if (count > 0 && (2 * Math.PI * radius) / count >= 4) {
    for (let i = 0; i < count; i++) {
      const [c, s] = [Math.cos(i * tickRad), Math.sin(i * tickRad)];
      const half = i % 3 === 0 ? 5 : 3;
      points.push((radius - half) * c, (radius - half) * s, 0, (radius + half) * c, (radius + half) * s, 0);
    }
  }
  return new BufferGeometry().setAttribute("position", new Float32BufferAttribute(points, 3));
}
