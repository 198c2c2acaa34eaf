// Soft footprints under all solids: what stands where on the ground is seen without turning the view.
import { useEffect, useMemo } from "react";
import { BufferGeometry, DoubleSide, Float32BufferAttribute } from "three";
import type { Poses } from "../api/types";
import { nth } from "../ui/lists";
import { useView } from "./context";
import { type Flat, hull } from "./elevations";
import { each, mapped, type Vec3 } from "./matrices";

const LIFT = 0.0006; // of the scene's size above the ground, so that neither hides the other

export function Footprints({ poses }: { poses: Poses }) {
  const { exercise, objects, shapes, size, tokens } = useView();
  const up = exercise.conventions.up === "y" ? 1 : 2;
  const geometry = useMemo(() => {
    const corners = objects.flatMap((item) => {
      const [shape, pose] = [shapes.get(item.id), poses[item.id]];
      if (item.locked || !shape || !pose) return [];
      return trianglesOf(
        shape.points.map((point) => mapped(pose.world_from_local, point)),
        up,
        size * LIFT,
      );
    });
    return new BufferGeometry().setAttribute("position", new Float32BufferAttribute(corners.flat(), 3));
  }, [objects, shapes, poses, up, size]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <mesh geometry={geometry} raycast={() => null}>
      <meshBasicMaterial color={tokens.ink} transparent opacity={0.16} depthWrite={false} side={DoubleSide} />
    </mesh>
  );
}

/** The hull of points seen from above, as corners of triangles at a height. */
function trianglesOf(points: readonly Vec3[], up: 1 | 2, height: number): Vec3[] {
  const other = up === 1 ? 2 : 1;
  const ring = hull(points.map((point): Flat => [point[0], point[other]])).map(([x, y]) =>
    each((axis) => (axis === 0 ? x : axis === up ? height : y)),
  );
  return ring.slice(2).flatMap((corner, i) => [nth(ring, 0), nth(ring, i + 1), corner]);
}
