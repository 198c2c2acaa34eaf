// A rail for scaling: a square bead at each end, ticks between; each end is dragged on its own.
import { useMemo } from "react";
import { Quaternion, Vector3 } from "three";
import { useView } from "./context";
import { AXIS_TEXT, AXIS_TOKENS } from "./Ground";
import { Label } from "./Label";
import { AXIS_NAMES, type AxisIndex, type Vec3 } from "./matrices";
import { REACH } from "./Rail";
import { hitRadius } from "./touch";
import { type DragActions, useHandleDrag } from "./useHandleDrag";

// Pixels.
const BEAD = 13;
const HIT = hitRadius(13);

type Props = {
  axis: AxisIndex;
  direction: Vec3;
  lit: boolean;
  actions: (end: 1 | -1) => DragActions;
};

export function ScaleRail({ axis, direction, lit, actions }: Props) {
  const { tokens } = useView();
  const turn = useMemo(
    () => new Quaternion().setFromUnitVectors(new Vector3(0, 1, 0), new Vector3(...direction)),
    [direction],
  );
  const colour = tokens[AXIS_TOKENS[axis]];
  const opacity = lit ? 0.95 : 0.4;
  return (
    <group quaternion={turn}>
      <mesh renderOrder={10}>
        <cylinderGeometry args={[lit ? 1.5 : 0.9, lit ? 1.5 : 0.9, 2 * REACH, 8]} />
        <meshBasicMaterial color={colour} transparent opacity={opacity} depthTest={false} />
      </mesh>
      {([1, -1] as const).map((end) => (
        <End key={end} axis={axis} end={end} colour={colour} lit={lit} actions={actions(end)} />
      ))}
    </group>
  );
}

type EndProps = { axis: AxisIndex; end: 1 | -1; colour: string; lit: boolean; actions: DragActions };

function End({ axis, end, colour, lit, actions }: EndProps) {
  const { handlers, active } = useHandleDrag(actions);
  const size = active ? BEAD * 1.25 : BEAD;
  const name = `${end > 0 ? "" : "−"}${AXIS_NAMES[axis]}`;
  return (
    <group position={[0, end * REACH, 0]}>
      <mesh renderOrder={11}>
        <boxGeometry args={[size, size, size]} />
        <meshBasicMaterial
          color={colour}
          transparent
          opacity={active || lit ? 0.95 : 0.5}
          depthTest={false}
        />
      </mesh>
      <mesh {...handlers}>
        <sphereGeometry args={[HIT, 10, 8]} />
        <meshBasicMaterial transparent opacity={0} depthWrite={false} colorWrite={false} />
      </mesh>
      <Label fixed>
        <span
          data-handle={`scale ${name}`}
          className={`relative left-4 font-mono font-bold ${AXIS_TEXT[axis]}`}
        >
          {name}
        </span>
      </Label>
    </group>
  );
}
