// A plane bead: a round bead between two rails, dragged in their plane.
import { useView } from "./context";
import { Label } from "./Label";
import { AXIS_NAMES, type AxisIndex, add, scaled, type Vec3 } from "./matrices";
import { type DragActions, useHandleDrag } from "./useHandleDrag";

// Pixels.
const AWAY = 46;
const RADIUS = 6.5;
const HIT = 12;

type Props = { axes: readonly [AxisIndex, AxisIndex]; u: Vec3; v: Vec3; lit: boolean; actions: DragActions };

export function PlaneBead({ axes, u, v, lit, actions }: Props) {
  const { tokens } = useView();
  const { handlers, active } = useHandleDrag(actions);
  const place = add(scaled(u, AWAY), scaled(v, AWAY)) as [number, number, number];
  const name = axes.map((axis) => AXIS_NAMES[axis]).join("");
  const strong = active || lit;
  return (
    <group position={place}>
      <mesh renderOrder={11}>
        <sphereGeometry args={[active ? RADIUS * 1.3 : RADIUS, 20, 14]} />
        <meshBasicMaterial color={tokens.plum} transparent opacity={strong ? 1 : 0.55} depthTest={false} />
      </mesh>
      <mesh {...handlers}>
        <sphereGeometry args={[HIT, 10, 8]} />
        <meshBasicMaterial transparent opacity={0} depthWrite={false} colorWrite={false} />
      </mesh>
      <Label>
        <span
          data-handle={name}
          className={`relative top-3 font-mono text-sm text-plum ${strong ? "font-bold" : ""}`}
        >
          {name}
        </span>
      </Label>
    </group>
  );
}
