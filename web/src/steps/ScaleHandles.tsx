// The handles for scaling: a rail with a square bead at each end, beads for two axes, and one in the middle for all.

import type { Space } from "../api/types";
import { useBenchParts, useSentenceParts } from "../state/store";
import { axesInSight, planeInSight } from "../view3d/dragGeometry";
import { AXIS_INDICES, AXIS_PAIRS } from "../view3d/matrices";
import { Bead, PlaneBead } from "../view3d/PlaneBead";
import { REACH } from "../view3d/Rail";
import { ScaleRail } from "../view3d/ScaleRail";
import type { HandleProps } from "./axisKind";
import { scalings } from "./scalings";
import { frameOf } from "./setting";
import { spaceOf } from "./spaces";

export function ScaleHandles({ setting, primary, ids, axes, centre, worldPerPixel, drag }: HandleProps) {
  const { directions, sizes } = useBenchParts("directions", "sizes");
  const sentence = useSentenceParts("space", "pivot", "axes", "uniform");
  const view: Space = { view: { right: [...directions.right], up: [...directions.up] } };
  const viewAxes = frameOf(view, setting, primary)?.axes;
  const inSight = axesInSight(axes, viewAxes?.[2]);
  const { onRail, onPlane } = scalings({
    ids,
    space: spaceOf(sentence.space, directions),
    pivot: sentence.pivot,
    primary: setting.objects.find((object) => object.id === primary),
    axes,
    centre,
    from: REACH * worldPerPixel,
    size: sizes.scale,
  });
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
