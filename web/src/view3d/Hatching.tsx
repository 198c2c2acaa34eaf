// What lies outside the plot or below the ground, hatched where it is, also through what stands before it.
import { useEffect, useMemo } from "react";
import { DoubleSide, Matrix4, MeshBasicMaterial, Plane, Vector3 } from "three";
import type { Exercise, Pose, Poses, SceneObject } from "../api/types";
import { type Bounds, boundsOf, cornersOf, FAR, reachesOut } from "./bounds";
import { useView } from "./context";
import { AXIS_INDICES, turned, type Vec3, WORLD_AXES } from "./matrices";
import { Placed } from "./Placed";

export function Hatching({ objects, poses }: { objects: readonly SceneObject[]; poses: Poses }) {
  const { exercise } = useView();
  return objects.map((item) => {
    const pose = poses[item.id];
    const bounds = pose && boundsOf(exercise, item);
    if (!bounds || !reachesOut(cornersOf([item], poses), bounds)) return null;
    return <Hatched key={item.id} id={item.id} pose={pose} bounds={bounds} />;
  });
}

function Hatched({ id, pose, bounds }: { id: string; pose: Pose; bounds: Bounds }) {
  const { exercise, shapes, tokens } = useView();
  const shape = shapes.get(id);
  const matrix = useMemo(() => new Matrix4().fromArray(pose.world_from_local), [pose]);
  const walls = JSON.stringify(bounds);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the walls are compared by what they are
  const material = useMemo(() => hatched(tokens.fail, wallsOf(bounds, exercise)), [tokens, walls, exercise]);
  useEffect(() => () => material.dispose(), [material]);
  if (!shape) return null;
  return (
    <Placed matrix={matrix}>
      <mesh geometry={shape.faces} material={material} renderOrder={4} />
    </Placed>
  );
}

/** Stripes of screen pixels on all that lies beyond any of the walls. */
function hatched(color: string, clippingPlanes: Plane[]): MeshBasicMaterial {
  // With the intersection, only what all planes cut away is left out: what is inside of every wall.
  const material = new MeshBasicMaterial({
    color,
    side: DoubleSide,
    depthTest: false,
    clippingPlanes,
    clipIntersection: true,
  });
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader.replace(
      "#include <clipping_planes_fragment>",
      "#include <clipping_planes_fragment>\nif (mod(gl_FragCoord.x + gl_FragCoord.y, 9.0) > 2.6) discard;",
    );
  };
  return material;
}

/** The walls in the picture frame, as planes that cut away what is inside. */
function wallsOf({ least, most }: Bounds, exercise: Exercise): Plane[] {
  const wall = (direction: Vec3, at: number) =>
    new Plane(new Vector3(...turned(exercise.picture_from_world, direction)), -at);
  return AXIS_INDICES.flatMap((axis) => {
    const [x, y, z] = WORLD_AXES[axis];
    return [
      ...(most[axis] < FAR ? [wall([x, y, z], most[axis])] : []),
      ...(least[axis] > -FAR ? [wall([-x, -y, -z], -least[axis])] : []),
    ];
  });
}
