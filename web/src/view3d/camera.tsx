// The free camera: where it stands at first, how it is turned, and how it comes back to the work.
import { OrbitControls } from "@react-three/drei";
import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { Box3, type PerspectiveCamera, Vector3 } from "three";
import type { OrbitControls as Controls } from "three-stdlib";
import type { Exercise, Pose, Poses } from "../api/types";
import { useView } from "./context";
import { pictureMatrix } from "./picture";

export const FIELD_DEGREES = 35;
const FROM = new Vector3(0.42, 0.55, 1).normalize(); // from the front, a little right and above

/** A ball in the picture frame: what is to be in sight. */
type Ball = { centre: Vector3; radius: number };

export type Fit = { what: "work" | "all" | "chosen"; turn: number };

export function FreeCamera({ poses, chosen, fit }: { poses: Poses; chosen: string | null; fit: Fit }) {
  const { exercise, shapes } = useView();
  const camera = useThree((state) => state.camera) as PerspectiveCamera;
  const controls = useThree((state) => state.controls) as Controls | null;
  const size = useThree((state) => state.size);
  const invalidate = useThree((state) => state.invalidate);
  const work = useMemo(() => workIds(exercise), [exercise]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: it moves when it is asked to, not when an object moves
  useEffect(() => {
    if (!controls) return;
    const ids =
      fit.what === "chosen" && chosen
        ? [chosen]
        : fit.what === "work"
          ? work
          : exercise.objects.map((o) => o.id);
    const targets = fit.what === "work" ? Object.entries(exercise.target) : [];
    const placed: [string, Pose][] = [...ids.map((id): [string, Pose] => [id, poses[id]!]), ...targets];
    const ball = ballAround(placed, (id) => shapes.get(id)?.faces.boundingBox ?? null, exercise);
    const direction = fit.turn === 0 ? FROM : camera.position.clone().sub(controls.target).normalize();
    const distance = (ball.radius * 1.05) / Math.sin(narrowHalfAngle(size.width / size.height));
    controls.target.copy(ball.centre);
    camera.position.copy(ball.centre).addScaledVector(direction, distance);
    camera.near = distance / 200;
    camera.far = distance * 60;
    camera.updateProjectionMatrix();
    controls.update();
    invalidate();
  }, [controls, fit, exercise]);

  return <OrbitControls makeDefault enableDamping={false} maxPolarAngle={Math.PI * 0.98} />;
}

/** Half the angle, in rad, that the picture shows across its narrower side. */
function narrowHalfAngle(aspect: number): number {
  const upright = ((FIELD_DEGREES / 2) * Math.PI) / 180;
  return Math.min(upright, Math.atan(Math.tan(upright) * aspect));
}

/** What can be moved, by which the first view is chosen. */
function workIds(exercise: Exercise): string[] {
  const free = exercise.objects.filter((item) => !item.locked).map((item) => item.id);
  return free.length > 0 ? free : exercise.objects.map((item) => item.id);
}

function ballAround(placed: [string, Pose][], boxOf: (id: string) => Box3 | null, exercise: Exercise): Ball {
  const picture = pictureMatrix(exercise);
  const around = new Box3();
  for (const [id, pose] of placed) {
    const world_from_local = picture
      .clone()
      .multiply(picture.clone().identity().fromArray(pose.world_from_local));
    const box = boxOf(id);
    if (box) around.union(box.clone().applyMatrix4(world_from_local));
    else around.expandByPoint(new Vector3().setFromMatrixPosition(world_from_local));
  }
  if (around.isEmpty()) around.set(new Vector3(-1, -1, -1), new Vector3(1, 1, 1));
  const radius = around.getSize(new Vector3()).length() / 2;
  return { centre: around.getCenter(new Vector3()), radius: Math.max(radius, 1e-6) };
}
