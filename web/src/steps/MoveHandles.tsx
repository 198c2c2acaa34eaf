// The handles for moving: three rails, three plane beads, and a bead that follows the view.
import type { Move, Space } from "../api/types";
import { withAxes } from "../state/sentence";
import { changeSentence, setBench, useBench, useBenchParts, useSentenceParts } from "../state/store";
import { nth } from "../ui/lists";
import { short } from "../ui/numbers";
import {
  axesInSight,
  dragOnLine,
  dragOnPlane,
  nearestMultiple,
  niceStep,
  planeInSight,
  type Ray,
} from "../view3d/dragGeometry";
import { AXIS_INDICES, AXIS_NAMES, AXIS_PAIRS, type Axes, type AxisIndex } from "../view3d/matrices";
import { Bead, PlaneBead } from "../view3d/PlaneBead";
import { Rail } from "../view3d/Rail";
import type { HandleProps, Meaning } from "./axisKind";
import { frameOf } from "./setting";
import { spaceOf } from "./spaces";

const TICK_PIXELS = 7; // ticks stand at least so far apart

export function MoveHandles({ setting, primary, ids, axes, centre, worldPerPixel, drag }: HandleProps) {
  const { directions, sizes } = useBenchParts("directions", "sizes");
  const sentence = useSentenceParts("space", "axes");
  const space = spaceOf(sentence.space, directions);
  const view: Space = { view: { right: [...directions.right], up: [...directions.up] } };
  const viewAxes = frameOf(view, setting, primary)?.axes;
  const inSight = axesInSight(axes, viewAxes?.[2]);
  const tick = sizes.move / worldPerPixel >= TICK_PIXELS ? sizes.move : niceStep(TICK_PIXELS * worldPerPixel);
  const unit = setting.conventions.length;

  const along = (
    dragged: readonly AxisIndex[],
    inSpace: Space,
    directionsOf: Axes,
  ): Meaning<readonly number[]> => ({
    begin(ray) {
      const start = reached(ray, directionsOf, dragged);
      if (start === null)
        return { why: `${named(dragged)} can hardly be seen from here; turn the view, or type the amount.` };
      const state = useBench.getState();
      if (inSpace === view) {
        setBench({
          warning: "This bead also moves in depth. Check the place from another side.",
        });
      } else changeSentence(withAxes(state.sentence, dragged));
      return { start };
    },
    step(ray, start, { snap }) {
      const at = reached(ray, directionsOf, dragged);
      if (at === null) return null;
      const by: Move["by"] = [0, 0, 0];
      const grain = snap ? sizes.move : niceStep(worldPerPixel / 4);
      dragged.forEach((axis, i) => {
        by[axis] = nearestMultiple(nth(at, i) - nth(start, i), grain);
      });
      if (by.every((amount) => amount === 0)) return null;
      const amount = dragged.map(
        (axis) => `${inSpace === view ? "" : `${AXIS_NAMES[axis]} `}${short(by[axis])} ${unit}`,
      );
      return {
        step: { op: "move", objects: [...ids], space: inSpace, by, entry: "dragged" },
        amount: amount.join("  "),
      };
    },
  });

  const reached = (ray: Ray, directionsOf: Axes, [a, b]: readonly AxisIndex[]): readonly number[] | null => {
    if (b === undefined) {
      const met = dragOnLine(ray, { origin: centre, direction: directionsOf[a!] });
      return met.kind === "on-line" ? [met.at] : null;
    }
    const met = dragOnPlane(ray, { origin: centre, u: directionsOf[a!], v: directionsOf[b] });
    return met.kind === "on-plane" ? met.at : null;
  };
  const only = (wanted: readonly AxisIndex[]) =>
    sentence.axes.every((on, axis) => on === wanted.includes(axis as AxisIndex));

  return (
    <>
      {AXIS_PAIRS.filter(([a, b]) => planeInSight(axes[a], axes[b], viewAxes?.[2])).map(([a, b]) => (
        <PlaneBead
          key={`${a}${b}`}
          axes={[a, b]}
          u={axes[a]}
          v={axes[b]}
          lit={only([a, b])}
          actions={drag(along([a, b], space, axes))}
        />
      ))}
      {AXIS_INDICES.filter((axis) => inSight[axis]).map((axis) => (
        <Rail
          key={axis}
          axis={axis}
          direction={axes[axis]}
          lit={sentence.axes[axis]}
          worldPerPixel={worldPerPixel}
          tick={tick}
          actions={drag(along([axis], space, axes))}
        />
      ))}
      {viewAxes && (
        <Bead name="view" words="" lit={false} first actions={drag(along([0, 1], view, viewAxes))} />
      )}
    </>
  );
}

function named(axes: readonly AxisIndex[]): string {
  return axes.length === 1
    ? `The ${AXIS_NAMES[nth(axes, 0)]} rail`
    : `The plane of ${axes.map((axis) => AXIS_NAMES[axis]).join(" and ")}`;
}
