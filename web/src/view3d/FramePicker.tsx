// What a frame dragged over the view takes: all that stands in it, or only what can be seen.
import { useThree } from "@react-three/fiber";
import { type RefObject, useEffect } from "react";
import { type Object3D, Raycaster, Vector2, Vector3 } from "three";
import { nth } from "../ui/lists";
import { useView } from "./context";

/** A frame in pixels of the view. */
export type FrameBox = { left: number; top: number; right: number; bottom: number };
/** seen: in the frame and in sight; hidden: in the frame behind others. */
export type Framed = { seen: string[]; hidden: string[] };
export type Framer = (frame: FrameBox) => Framed;

export function FramePicker({ framer }: { framer: RefObject<Framer | null> }) {
  const { objects } = useView();
  const { camera, scene, size } = useThree();
  useEffect(() => {
    framer.current = (frame) => {
      const found: Framed = { seen: [], hidden: [] };
      const caster = new Raycaster();
      scene.updateMatrixWorld();
      const bodies: Object3D[] = [];
      scene.traverse((part) => part.userData.object && bodies.push(part));
      for (const item of objects) {
        const body = bodies.find((part) => part.userData.object === item.id);
        if (item.locked || !body) continue;
        const samples = samplesOf(body).map((place) => place.project(camera));
        const pixels = (p: Vector3) => [((p.x + 1) / 2) * size.width, ((1 - p.y) / 2) * size.height] as const;
        const [x, y] = pixels(nth(samples, 0));
        if (x < frame.left || x > frame.right || y < frame.top || y > frame.bottom) continue;
        const inSight = samples.some((p) => {
          caster.setFromCamera(new Vector2(p.x, p.y), camera);
          return caster.intersectObjects(bodies, false)[0]?.object === body;
        });
        (inSight ? found.seen : found.hidden).push(item.id);
      }
      return found;
    };
  }, [camera, scene, size, objects, framer]);
  return null;
}

/** The middle of a body's box, and points a little inside its corners, in the picture. */
function samplesOf(body: Object3D): Vector3[] {
  const mesh = body as Object3D & { geometry: { boundingBox: { min: Vector3; max: Vector3 } } };
  const { min, max } = mesh.geometry.boundingBox;
  const middle = min.clone().add(max).multiplyScalar(0.5);
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i) =>
    new Vector3(i & 1 ? max.x : min.x, i & 2 ? max.y : min.y, i & 4 ? max.z : min.z).lerp(middle, 0.08),
  );
  return [middle, ...corners].map((place) => place.applyMatrix4(body.matrixWorld));
}
