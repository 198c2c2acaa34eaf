// The handles for scaling: a rail with a square bead at each end, beads for two axes, and one in the middle for all.

import type { Pivot, Scale, Space } from "../api/types";
import { short } from "../ui/numbers";
import { listed } from "../ui/words";
import {
  axesInSight,
  dragOnLine,
  dragOnPlane,
  nearestMultiple,
  planeInSight,
  stretch,
} from "../view3d/dragGeometry";
import { AXIS_INDICES, AXIS_NAMES, AXIS_PAIRS, type AxisIndex, scaled, type Vec3 } from "../view3d/matrices";
import { Bead, PlaneBead } from "../view3d/PlaneBead";
import { REACH } from "../view3d/Rail";
import { ScaleRail } from "../view3d/ScaleRail";
import type { HandleProps } from "./Handles";
import { frameOf } from "./preview";
import { spaceOf, withAxes } from "./sentence";
import { useBench, useBenchParts } from "./store";
import { type Meaning, useStepDrag } from "./useStepDrag";

const GRAIN = 0.01; // of a factor, in a free drag

export function ScaleHandles({ setting, primary, ids, axes, centre, worldPerPixel, onStep }: HandleProps) {
  const { sentence, directions, sizes } = useBenchParts("sentence", "directions", "sizes");
  const drag = useStepDrag(setting, onStep);
  const space = spaceOf(sentence.space, directions);
  const item = setting.objects.find((object) => object.id === primary);
  const view: Space = { view: { right: [...directions.right], up: [...directions.up] } };
  const viewAxes = frameOf(view, setting, primary)?.axes;
  const from = REACH * worldPerPixel;
  const inSight = axesInSight(axes, viewAxes?.[2]);

  /** What stays where it is: what the pivot chip says; with its own pivot, the other end of a solid of one's own axes. */
  const held = (axis: AxisIndex, end: 1 | -1, both: boolean): Pivot => {
    if (both) return "box";
    const hasEnds = space === "local" && ids.length === 1 && item?.local_box;
    if (sentence.pivot !== "own" || !hasEnds) return sentence.pivot;
    return { object: primary, at: `${end > 0 ? "-" : "+"}${"xyz"[axis]}` };
  };
  const stepOf = (on: readonly AxisIndex[], factor: number, snap: boolean, pivot: Pivot) => {
    const clean = nearestMultiple(factor, snap ? sizes.scale : GRAIN);
    if (clean <= 0 || clean === 1) return null;
    const by = AXIS_INDICES.map((axis) => (on.includes(axis) ? clean : 1)) as [number, number, number];
    const step: Scale = {
      op: "scale",
      objects: [...ids],
      space,
      by,
      uniform: false,
      pivot,
      entry: "dragged",
    };
    const which = on.length === 3 ? "all axes" : listed(on.map((axis) => AXIS_NAMES[axis]));
    return { step, amount: `${which} × ${short(clean)}` };
  };
  const lightUp = (on: readonly AxisIndex[]) => {
    const state = useBench.getState();
    state.change({
      ...withAxes(state.sentence, on),
      mode: "by",
      uniform: on.length === 3,
      keepVolume: false,
    });
  };

  const onRail = (axis: AxisIndex, end: 1 | -1): Meaning<number> => {
    const line = { origin: centre, direction: scaled(axes[axis], end) as Vec3 };
    return {
      begin(ray) {
        const met = dragOnLine(ray, line);
        if (met.kind !== "on-line")
          return {
            why: `The ${AXIS_NAMES[axis]} rail can hardly be seen from here; turn the view, or type the factor.`,
          };
        lightUp([axis]);
        return { start: met.at };
      },
      step(ray, start, { snap, both }) {
        const met = dragOnLine(ray, line);
        return met.kind === "on-line"
          ? stepOf([axis], stretch(met.at - start, from), snap, held(axis, end, both))
          : null;
      },
    };
  };
  const onPlane = (on: readonly AxisIndex[], u: Vec3, v: Vec3): Meaning<number> => {
    const reached = (ray: Parameters<Meaning<number>["begin"]>[0]) => {
      const met = dragOnPlane(ray, { origin: centre, u, v });
      return met.kind === "on-plane" ? (met.at[0] + met.at[1]) / Math.SQRT2 : null;
    };
    return {
      begin(ray) {
        const start = reached(ray);
        if (start === null)
          return { why: "These axes can hardly be seen from here; turn the view, or type the factors." };
        lightUp(on);
        return { start };
      },
      step(ray, start, { snap, both }) {
        const at = reached(ray);
        return at === null
          ? null
          : stepOf(on, stretch(at - start, from), snap, both ? "box" : sentence.pivot);
      },
    };
  };

  return (
    <>
      {AXIS_PAIRS.filter(([a, b]) => planeInSight(axes[a], axes[b], viewAxes?.[2])).map(([a, b]) => (
        <PlaneBead
          key={`${a}${b}`}
          axes={[a, b]}
          u={axes[a]}
          v={axes[b]}
          square
          lit={sentence.axes[a] && sentence.axes[b] && !sentence.uniform}
          actions={drag(onPlane([a, b], axes[a], axes[b]))}
        />
      ))}
      {AXIS_INDICES.filter((axis) => inSight[axis]).map((axis) => (
        <ScaleRail
          key={axis}
          axis={axis}
          direction={axes[axis]}
          lit={sentence.axes[axis] || sentence.uniform}
          actions={(end) => drag(onRail(axis, end))}
        />
      ))}
      {viewAxes && (
        <Bead
          name="scale all"
          words="all"
          square
          lit={sentence.uniform}
          actions={drag(onPlane([0, 1, 2], viewAxes[0], viewAxes[1]))}
        />
      )}
    </>
  );
}
