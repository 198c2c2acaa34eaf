// The handles for moving what is chosen: three rails and three plane beads, at its pivot, along the chosen space.
import { useRef } from "react";
import type { Poses } from "../api/types";
import { short } from "../ui/numbers";
import { useView } from "../view3d/context";
import { dragOnLine, dragOnPlane, nearestMultiple, niceStep, type Ray } from "../view3d/dragGeometry";
import { Label } from "../view3d/Label";
import { AXIS_INDICES, AXIS_NAMES, type Axes, type AxisIndex, type Vec3 } from "../view3d/matrices";
import { PixelSized } from "../view3d/PixelSized";
import { PlaneBead } from "../view3d/PlaneBead";
import { Rail } from "../view3d/Rail";
import type { DragActions } from "../view3d/useHandleDrag";
import { axesOf, previewStep } from "./preview";
import { draggedStep, withAxes } from "./sentence";
import { useBench } from "./store";

const TICK_PIXELS = 9; // ticks stand at least so far apart
const PLANES: readonly (readonly [AxisIndex, AxisIndex])[] = [
  [0, 1],
  [1, 2],
  [0, 2],
];

type Props = { object: string; poses: Poses; onStep: (step: ReturnType<typeof draggedStep>) => void };

export function MoveHandles({ object, poses, onStep }: Props) {
  const sentence = useBench((state) => state.sentence);
  const drag = useBench((state) => state.drag);
  const axes = axesOf(sentence.space, poses, object);
  if (!axes) return null;
  const shown = drag?.changed[object] ?? poses[object]!;
  return (
    <PixelSized at={shown.pivot_world}>
      {(worldPerPixel) => (
        <>
          <Handles object={object} poses={poses} axes={axes} worldPerPixel={worldPerPixel} onStep={onStep} />
          {drag && <Amounts amounts={drag.amounts} axes={drag.axes} />}
        </>
      )}
    </PixelSized>
  );
}

type HandlesProps = Props & { axes: Axes; worldPerPixel: number };

function Handles({ object, poses, axes, worldPerPixel, onStep }: HandlesProps) {
  const sentence = useBench((state) => state.sentence);
  const tick = niceStep(TICK_PIXELS * worldPerPixel);
  const drags = useDrags({ object, poses, axes, tick, onStep });
  const only = (wanted: readonly AxisIndex[]) =>
    sentence.axes.every((on, axis) => on === wanted.includes(axis as AxisIndex));
  return (
    <>
      {PLANES.map(([a, b]) => (
        <PlaneBead
          key={`${a}${b}`}
          axes={[a, b]}
          u={axes[a]}
          v={axes[b]}
          lit={only([a, b])}
          actions={drags([a, b])}
        />
      ))}
      {AXIS_INDICES.map((axis) => (
        <Rail
          key={axis}
          axis={axis}
          direction={axes[axis]}
          lit={sentence.axes[axis]}
          worldPerPixel={worldPerPixel}
          tick={tick}
          actions={drags([axis])}
        />
      ))}
    </>
  );
}

type DragProps = { object: string; poses: Poses; axes: Axes; tick: number; onStep: Props["onStep"] };

/** Where the pointer is along the dragged axes; `null` where the view does not tell. */
function reached(
  ray: Ray,
  origin: Vec3,
  axes: Axes,
  dragged: readonly AxisIndex[],
): readonly number[] | null {
  const [a, b] = dragged as [AxisIndex, AxisIndex | undefined];
  if (b === undefined) {
    const met = dragOnLine(ray, { origin, direction: axes[a] });
    return met.kind === "on-line" ? [met.at] : null;
  }
  const met = dragOnPlane(ray, { origin, u: axes[a], v: axes[b] });
  return met.kind === "on-plane" ? met.at : null;
}

function useDrags({
  object,
  poses,
  axes,
  tick,
  onStep,
}: DragProps): (dragged: readonly AxisIndex[]) => DragActions {
  const { exercise } = useView();
  const from = useRef<readonly number[]>([]);
  const { setDrag, warn, change } = useBench.getState();
  const space = useBench((state) => state.sentence.space);
  const origin = poses[object]!.pivot_world;

  return (dragged) => ({
    begin(ray) {
      const at = reached(ray, origin, axes, dragged);
      if (at === null) {
        warn(`${names(dragged)} can hardly be seen from here; turn the view, or type the amount.`);
        return false;
      }
      from.current = at;
      change(withAxes(useBench.getState().sentence, dragged));
      return true;
    },
    move(ray, snap) {
      const at = reached(ray, origin, axes, dragged);
      if (at === null) return; // the pointer left what the view can tell: stay where it was
      const amounts: [number, number, number] = [0, 0, 0];
      const grain = snap ? tick : tick / 100;
      dragged.forEach((axis, i) => {
        amounts[axis] = nearestMultiple(at[i]! - from.current[i]!, grain);
      });
      const changed = previewStep(draggedStep(object, space, amounts), poses, exercise.objects);
      if (changed) setDrag({ axes: dragged, amounts, changed });
    },
    take() {
      const { drag } = useBench.getState();
      setDrag(null);
      if (drag?.amounts.some((amount) => amount !== 0)) onStep(draggedStep(object, space, drag.amounts));
    },
    cancel: () => setDrag(null),
  });
}

function names(axes: readonly AxisIndex[]): string {
  return axes.length === 1
    ? `The ${AXIS_NAMES[axes[0]!]} rail`
    : `The plane of ${axes.map((axis) => AXIS_NAMES[axis]).join(" and ")}`;
}

function Amounts({ amounts, axes }: { amounts: Vec3; axes: readonly AxisIndex[] }) {
  const unit = useView().exercise.conventions.length;
  const text = axes.map((axis) => `${AXIS_NAMES[axis]} ${short(amounts[axis])} ${unit}`).join("  ");
  return (
    <Label shift="14px, 14px">
      <output className="rounded-sm bg-ink px-1.5 py-0.5 font-mono text-sm whitespace-nowrap text-paper">
        {text}
      </output>
    </Label>
  );
}
