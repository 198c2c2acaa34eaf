// A bead between two rails, dragged in their plane: round for moving, square for scaling.
import { type Intersection, Mesh, type Raycaster } from "three";
import { useView } from "./context";
import { Label } from "./Label";
import { AXIS_NAMES, type AxisIndex, add, scaled, type Vec3 } from "./matrices";
import { hitRadius } from "./touch";
import { type DragActions, useHandleDrag } from "./useHandleDrag";

// Pixels.
const AWAY = 46;
const RADIUS = 6.5;
const HIT = hitRadius(12);

type Props = {
  axes: readonly [AxisIndex, AxisIndex];
  u: Vec3;
  v: Vec3;
  lit: boolean;
  square?: boolean;
  actions: DragActions;
};

export function PlaneBead({ axes, u, v, lit, square = false, actions }: Props) {
  const place = add(scaled(u, AWAY), scaled(v, AWAY)) as [number, number, number];
  const name = axes.map((axis) => AXIS_NAMES[axis]).join("");
  return (
    <group position={place}>
      <Bead name={name} words={name} lit={lit} square={square} actions={actions} />
    </group>
  );
}

type BeadProps = {
  name: string;
  words: string;
  lit: boolean;
  square?: boolean;
  /** Whether it is taken before what lies over it in the picture, as a rail that points at the viewer does. */
  first?: boolean;
  actions: DragActions;
};

/** What the pointer meets, as if it were nearest to the viewer. */
function metFirst(this: Mesh, caster: Raycaster, found: Intersection[]): void {
  const others = found.length;
  Mesh.prototype.raycast.call(this, caster, found);
  for (const met of found.slice(others)) met.distance = caster.near;
}

/** A plum bead with its name below it. */
export function Bead({ name, words, lit, square = false, first = false, actions }: BeadProps) {
  const { tokens } = useView();
  const { handlers, active } = useHandleDrag(actions);
  const strong = active || lit;
  const radius = active ? RADIUS * 1.3 : RADIUS;
  return (
    <>
      <mesh renderOrder={11}>
        {square ? (
          <boxGeometry args={[radius * 1.7, radius * 1.7, radius * 1.7]} />
        ) : (
          <sphereGeometry args={[radius, 20, 14]} />
        )}
        <meshBasicMaterial color={tokens.plum} transparent opacity={strong ? 1 : 0.55} depthTest={false} />
      </mesh>
      <mesh {...handlers} {...(first ? { raycast: metFirst } : {})}>
        <sphereGeometry args={[HIT, 10, 8]} />
        <meshBasicMaterial transparent opacity={0} depthWrite={false} colorWrite={false} />
      </mesh>
      <Label fixed>
        <span
          data-handle={name}
          className={`relative top-3 font-mono text-sm text-plum ${strong ? "font-bold" : ""}`}
        >
          {words}
        </span>
      </Label>
    </>
  );
}
