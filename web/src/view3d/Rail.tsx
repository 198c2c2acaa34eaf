// A rail: the straight handle of one axis, with ticks and a round bead at its far end.
import { useMemo } from "react";
import { BufferGeometry, Float32BufferAttribute, Quaternion, Vector3 } from "three";
import { useView } from "./context";
import { AXIS_TEXT, AXIS_TOKENS } from "./Ground";
import { Label } from "./Label";
import { AXIS_NAMES, type AxisIndex, type Vec3 } from "./matrices";
import { hitRadius } from "./touch";
import { type DragActions, useHandleDrag } from "./useHandleDrag";

// Pixels.
const BACK = 34;
export const REACH = 108;
const BEAD = 8;
const HIT = hitRadius(13);

type Props = {
  axis: AxisIndex;
  direction: Vec3;
  lit: boolean;
  worldPerPixel: number;
  tick: number;
  actions: DragActions;
};

export function Rail({ axis, direction, lit, worldPerPixel, tick, actions }: Props) {
  const { tokens } = useView();
  const { handlers, active } = useHandleDrag(actions);
  const turn = useMemo(
    () => new Quaternion().setFromUnitVectors(new Vector3(0, 1, 0), new Vector3(...direction)),
    [direction],
  );
  const ticks = useMemo(() => tickGeometry(tick / worldPerPixel), [tick, worldPerPixel]);
  const colour = tokens[AXIS_TOKENS[axis]];
  const strength = active ? 1 : lit ? 0.95 : 0.4;
  const width = active || lit ? 1.7 : 0.9;
  const paint = { color: colour, transparent: true, opacity: strength, depthTest: false };
  return (
    <group quaternion={turn}>
      <mesh position={[0, (REACH - BACK) / 2, 0]} renderOrder={10}>
        <cylinderGeometry args={[width, width, REACH + BACK, 8]} />
        <meshBasicMaterial {...paint} />
      </mesh>
      <lineSegments geometry={ticks} renderOrder={10}>
        <lineBasicMaterial {...paint} />
      </lineSegments>
      <mesh position={[0, REACH, 0]} renderOrder={11}>
        <sphereGeometry args={[active ? BEAD * 1.25 : BEAD, 20, 14]} />
        <meshBasicMaterial {...paint} />
      </mesh>
      <mesh position={[0, REACH * 0.6, 0]} {...handlers}>
        <cylinderGeometry args={[HIT, HIT, REACH * 0.8 + 2 * HIT, 8]} />
        <meshBasicMaterial transparent opacity={0} depthWrite={false} colorWrite={false} />
      </mesh>
      <Label fixed at={[0, REACH, 0]}>
        <span
          data-handle={AXIS_NAMES[axis]}
          className={`relative left-4 font-mono font-bold ${AXIS_TEXT[axis]}`}
        >
          {AXIS_NAMES[axis]}
        </span>
      </Label>
    </group>
  );
}

/** Short cross lines at each step, every fifth one longer. */
function tickGeometry(pixelsPerTick: number): BufferGeometry {
  const points: Vec3[] = [];
  for (let i = 1; i * pixelsPerTick < REACH - BEAD; i++) {
    const half = i % 5 === 0 ? 6 : 3.5;
    const y = i * pixelsPerTick;
    points.push([-half, y, 0], [half, y, 0], [0, y, -half], [0, y, half]);
  }
  return new BufferGeometry().setAttribute("position", new Float32BufferAttribute(points.flat(), 3));
}
