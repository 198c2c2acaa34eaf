// What a drag of a handle for scaling means: which step, by which factor, and what stays where it is.
import type { Pivot, Scale, SceneObject, Space } from "../api/types";
import { withAxes } from "../state/sentence";
import { changeSentence, useBench } from "../state/store";
import { short } from "../ui/numbers";
import { listed } from "../ui/words";
import { dragOnLine, dragOnPlane, nearestMultiple, type Ray, stretch } from "../view3d/dragGeometry";
import { AXIS_NAMES, type Axes, type AxisIndex, each, scaled, type Vec3 } from "../view3d/matrices";
import type { Meaning } from "./axisKind";

const GRAIN = 0.01; // of a factor, in a free drag

type Stand = {
  ids: readonly string[];
  space: Space;
  pivot: Pivot;
  /** The object that the handles stand at. */
  primary: SceneObject | undefined;
  axes: Axes;
  centre: Vec3;
  /** How far from the centre a handle stands, in scene lengths: as far again is a factor of 2. */
  from: number;
  /** The snap size of a factor. */
  size: number;
};

export function scalings({ ids, space, pivot, primary, axes, centre, from, size }: Stand) {
  /** What stays where it is: what the pivot chip says; with its own pivot, the other end of a solid of one's own axes. */
  const held = (axis: AxisIndex, end: 1 | -1, both: boolean): Pivot => {
    if (both) return "box";
    const hasEnds = space === "local" && ids.length === 1 && primary?.local_box;
    if (pivot !== "own" || !hasEnds) return pivot;
    return { object: primary.id, at: `${end > 0 ? "-" : "+"}${"xyz"[axis]}` };
  };
  const stepOf = (on: readonly AxisIndex[], factor: number, snap: boolean, hold: Pivot) => {
    const clean = nearestMultiple(factor, snap ? size : GRAIN);
    if (clean <= 0 || clean === 1) return null;
    const by = [...each((axis) => (on.includes(axis) ? clean : 1))] as [number, number, number];
    const step: Scale = {
      op: "scale",
      objects: [...ids],
      space,
      by,
      uniform: false,
      pivot: hold,
      entry: "dragged",
    };
    const which = on.length === 3 ? "all axes" : listed(on.map((axis) => AXIS_NAMES[axis]));
    return { step, amount: `${which} × ${short(clean)}` };
  };
  const lightUp = (on: readonly AxisIndex[]) => {
    const state = useBench.getState();
    changeSentence({
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
    const reached = (ray: Ray) => {
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
        return at === null ? null : stepOf(on, stretch(at - start, from), snap, both ? "box" : pivot);
      },
    };
  };

  return { onRail, onPlane };
}
