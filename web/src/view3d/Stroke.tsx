// A line of a width in pixels. Its material is made once: a new one at each change would have the browser link its shader
// anew for every frame of a drag.
import { useEffect, useLayoutEffect, useMemo, useState } from "react";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";
import { nth } from "../ui/lists";
import type { Vec3 } from "./matrices";

type Props = {
  points: readonly Vec3[];
  color: string;
  /** In pixels. */
  width?: number;
  opacity?: number;
  /** The lengths of a dash and of the gap after it, in the scene's unit. */
  dash?: readonly [dash: number, gap: number] | undefined;
  /** Each pair of points is a line of its own, not each point joined to the next. */
  pairs?: boolean;
  /** Drawn over all that is nearer to the eye. */
  onTop?: boolean;
  renderOrder?: number;
};

export function Stroke({
  points,
  color,
  width = 1,
  opacity = 1,
  dash,
  pairs = false,
  onTop = false,
  renderOrder = 0,
}: Props) {
  const [line] = useState(() => new LineSegments2(new LineSegmentsGeometry(), new LineMaterial()));
  const geometry = useMemo(() => {
    const ends = pairs ? points : points.slice(1).flatMap((point, i) => [nth(points, i), point]);
    return new LineSegmentsGeometry().setPositions(ends.flat());
  }, [points, pairs]);
  useLayoutEffect(() => {
    line.computeLineDistances();
    return () => geometry.dispose();
  }, [line, geometry]);
  useEffect(() => () => line.material.dispose(), [line]);
  return (
    <primitive
      object={line}
      geometry={geometry}
      renderOrder={renderOrder}
      raycast={NOT_MEANT}
      material-color={color}
      material-linewidth={width}
      material-transparent={opacity < 1}
      material-opacity={opacity}
      material-dashed={dash !== undefined}
      material-dashSize={dash?.[0] ?? 1}
      material-gapSize={dash?.[1] ?? 1}
      material-depthTest={!onTop}
    />
  );
}

/** A line is drawn to be seen; what a pointer means is the solid behind it. */
const NOT_MEANT = () => null;
