// The edges of a halo as beads: dragged out or in, the tolerance follows, with the number beside it.
import { useRef } from "react";
import type { Halo } from "../api/types";
import { nth } from "../ui/lists";
import { short } from "../ui/numbers";
import { useView } from "../view3d/context";
import { dragOnLine, type Ray } from "../view3d/dragGeometry";
import { Label } from "../view3d/Label";
import { AXIS_INDICES, type AxisIndex, add, each, scaled } from "../view3d/matrices";
import { PixelSized } from "../view3d/PixelSized";
import { useHandleDrag } from "../view3d/useHandleDrag";

const BEAD = 7; // pixels
const HIT = 14;

type Props = {
  halo: Halo;
  /** The axes along which the check measures. */
  axes: readonly AxisIndex[];
  tolerance: number;
  unit: string;
  onTolerance: (tolerance: number) => void;
};

export function HaloEdges({ axes, ...props }: Props) {
  return AXIS_INDICES.filter((axis) => axes.includes(axis)).map((axis) => (
    <Edge key={axis} axis={axis} {...props} />
  ));
}

type EdgeProps = Omit<Props, "axes"> & { axis: AxisIndex };

function Edge({ halo, axis, tolerance, unit, onTolerance }: EdgeProps) {
  const { tokens } = useView();
  const direction = each((k) => halo.world_from_axes[3 * axis + k] ?? 0);
  const begun = useRef({ at: 0, tolerance });
  const along = (ray: Ray) => {
    const met = dragOnLine(ray, { origin: halo.centre_world, direction });
    return met.kind === "on-line" ? met.at : null;
  };
  const { handlers, active } = useHandleDrag({
    begin: (ray) => {
      const at = along(ray);
      if (at !== null) begun.current = { at, tolerance };
      return at !== null;
    },
    move: (ray) => {
      const at = along(ray);
      const wanted = at === null ? 0 : begun.current.tolerance + at - begun.current.at;
      if (wanted > 0) onTolerance(Number(wanted.toPrecision(2)));
    },
    take: () => {},
    cancel: () => onTolerance(begun.current.tolerance),
  });
  const place = add(halo.centre_world, scaled(direction, nth(halo.half_sizes, axis)));
  return (
    <PixelSized at={place}>
      {() => (
        <>
          <mesh renderOrder={11}>
            <sphereGeometry args={[active ? BEAD * 1.3 : BEAD, 20, 14]} />
            <meshBasicMaterial color={tokens.plum} depthTest={false} transparent opacity={0.9} />
          </mesh>
          <mesh {...handlers}>
            <sphereGeometry args={[HIT, 12, 8]} />
            <meshBasicMaterial transparent opacity={0} depthWrite={false} colorWrite={false} />
          </mesh>
          <Label shift="12px, -50%">
            <span
              data-edge={"XYZ"[axis]}
              className={`rounded-sm px-1 font-mono text-sm whitespace-nowrap ${active ? "bg-ink text-paper" : "bg-sheet/85 text-ink-soft"}`}
            >
              ± {short(tolerance)} {unit}
            </span>
          </Label>
        </>
      )}
    </PixelSized>
  );
}
