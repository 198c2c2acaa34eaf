// The camera of the main view: free or from one side, in perspective or flat, and how it comes back to the work.
import { OrbitControls, OrthographicCamera, PerspectiveCamera } from "@react-three/drei";
import { useThree } from "@react-three/fiber";
import { useCallback, useEffect, useMemo, useRef } from "react";
import {
  Box3,
  type OrthographicCamera as FlatCamera,
  type PerspectiveCamera as FreeCamera,
  Vector3,
} from "three";
import type { OrbitControls as Controls } from "three-stdlib";
import type { Exercise, Pose, Poses } from "../api/types";
import { useView } from "./context";
import { LOOKS, type Side } from "./elevations";
import { transposed, turned, type Vec3 } from "./matrices";
import { pictureMatrix } from "./picture";
import { METRES } from "./units";

export const FIELD_DEGREES = 35;
export const YARD_METRES = 6; // what is looked at where nothing stands yet
const EYE_METRES = 1.6; // a made-up dock hand's eyes
const RAISED = new Vector3(0.3, 1.1, 1).normalize();

/** A ball in the picture frame: what is to be in sight. */
type Ball = { centre: Vector3; radius: number };

/** work: what is to be moved, where it is and where it is wanted; exercise: all that the exercise has, whatever is shown. */
export type Fit = { what: "work" | "exercise" | "all" | "chosen" | "eye" | "raised"; turn: number };
export type Directions = { right: Vec3; up: Vec3 };
/** Where the view is seen from, and the point it looks at, in world. */
export type Stand = { eye_world: Vec3; middle_world: Vec3 };

type Props = {
  poses: Poses;
  chosen: readonly string[];
  fit: Fit;
  main: Side;
  flat: boolean;
  still: boolean;
  onTurned?: ((directions: Directions) => void) | undefined;
  /** Where to look from; each new one moves the camera. */
  stand?: Stand | null | undefined;
  onStand?: ((stand: Stand) => void) | undefined;
};

export function MainCamera({ poses, chosen, fit, main, flat, still, onTurned, stand, onStand }: Props) {
  const { exercise, objects, shapes, targets: shapesThere } = useView();
  const camera = useThree((state) => state.camera) as FreeCamera | FlatCamera;
  const controls = useThree((state) => state.controls) as Controls | null;
  const size = useThree((state) => state.size);
  const invalidate = useThree((state) => state.invalidate);
  const work = useMemo(() => workIds(exercise), [exercise]);
  const free = useRef(new Vector3(...LOOKS.free.toward)); // where the free view was seen from last
  const parallel = flat || main !== "free";

  const tell = useCallback(() => {
    const world_from_picture = transposed(exercise.picture_from_world);
    const axis = (x: number, y: number, z: number) => {
      const seen = new Vector3(x, y, z).applyQuaternion(camera.quaternion);
      return turned(world_from_picture, [seen.x, seen.y, seen.z]);
    };
    onTurned?.({ right: axis(1, 0, 0), up: axis(0, 1, 0) });
    if (!controls || !onStand) return;
    const inWorld = (place: Vector3) => turned(world_from_picture, place.toArray());
    onStand({ eye_world: inWorld(camera.position), middle_world: inWorld(controls.target) });
  }, [camera, controls, exercise, onTurned, onStand]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: it moves when it is asked to, not when an object moves
  useEffect(() => {
    if (!controls || "isOrthographicCamera" in camera !== parallel) return;
    const ids =
      fit.what === "chosen" && chosen.length > 0
        ? chosen
        : fit.what === "all" || fit.what === "exercise"
          ? (fit.what === "all" ? objects : exercise.objects).map((o) => o.id)
          : work;
    const targets =
      fit.what === "work" || fit.what === "exercise"
        ? Object.entries(exercise.target).filter(([id]) => ids.includes(id) || !exercise.start[id])
        : [];
    const here = fit.what === "exercise" ? exercise.start : poses;
    const placed = [...ids.map((id): [string, Pose | undefined] => [id, here[id]]), ...targets];
    const ball = ballAround(
      placed,
      (id) => (shapes.get(id) ?? shapesThere.get(id))?.faces.boundingBox ?? null,
      exercise,
    );
    if (fit.what === "raised") free.current.copy(RAISED);
    if (fit.what === "eye") free.current.set(free.current.x, 0, free.current.z || 1).normalize();
    const direction = main === "free" ? free.current : new Vector3(...LOOKS[main].toward);
    const distance = (ball.radius * 1.05) / Math.sin(narrowHalfAngle(size.width / size.height));
    if (fit.what === "eye" && main === "free")
      ball.centre.y = EYE_METRES / METRES[exercise.conventions.length];
    camera.up.set(...(main === "top" ? LOOKS.top.up : ([0, 1, 0] as const)));
    controls.target.copy(ball.centre);
    camera.position.copy(ball.centre).addScaledVector(direction, distance);
    camera.near = parallel ? -distance * 20 : distance / 200;
    camera.far = distance * 60;
    if ("isOrthographicCamera" in camera) {
      camera.zoom = Math.min(size.width, size.height) / (2 * ball.radius * 1.05);
    }
    camera.lookAt(ball.centre);
    camera.updateProjectionMatrix();
    controls.update();
    tell();
    invalidate();
  }, [controls, camera, fit, exercise, main, parallel]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: it moves when it is asked to
  useEffect(() => {
    if (!controls || !stand) return;
    camera.position.set(...turned(exercise.picture_from_world, stand.eye_world));
    controls.target.set(...turned(exercise.picture_from_world, stand.middle_world));
    controls.update();
    tell();
    invalidate();
  }, [controls, stand]);

  const settled = () => {
    if (controls && main === "free") free.current.copy(camera.position).sub(controls.target).normalize();
    tell();
  };
  return (
    <>
      {parallel ? <OrthographicCamera makeDefault /> : <PerspectiveCamera makeDefault fov={FIELD_DEGREES} />}
      <OrbitControls
        key={`${main} ${parallel}`}
        makeDefault
        enabled={!still}
        enableDamping={false}
        enableRotate={main === "free"}
        maxPolarAngle={Math.PI * 0.98}
        onEnd={settled}
      />
    </>
  );
}

/** Half the angle, in rad, that the picture shows across its narrower side. */
function narrowHalfAngle(aspect: number): number {
  const upright = ((FIELD_DEGREES / 2) * Math.PI) / 180;
  return Math.min(upright, Math.atan(Math.tan(upright) * aspect));
}

/** What can be moved, by which the first view is chosen. */
export function workIds(exercise: Exercise): string[] {
  const free = exercise.objects.filter((item) => !item.locked).map((item) => item.id);
  return free.length > 0 ? free : exercise.objects.map((item) => item.id);
}

function ballAround(
  placed: readonly [string, Pose | undefined][],
  boxOf: (id: string) => Box3 | null,
  exercise: Exercise,
): Ball {
  const picture = pictureMatrix(exercise);
  const around = new Box3();
  for (const [id, pose] of placed) {
    if (!pose) continue;
    const world_from_local = picture
      .clone()
      .multiply(picture.clone().identity().fromArray(pose.world_from_local));
    const box = boxOf(id);
    if (box) around.union(box.clone().applyMatrix4(world_from_local));
    else around.expandByPoint(new Vector3().setFromMatrixPosition(world_from_local));
  }
  const yard = YARD_METRES / METRES[exercise.conventions.length];
  if (around.isEmpty()) around.set(new Vector3(-yard / 2, 0, -yard / 2), new Vector3(yard / 2, 0, yard / 2));
  const radius = around.getSize(new Vector3()).length() / 2;
  return { centre: around.getCenter(new Vector3()), radius: Math.max(radius, 1e-6) };
}
