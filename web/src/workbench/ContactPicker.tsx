// A contact that follows the pointer over surfaces: a spur along the normal, and a click that takes it.
import { useThree } from "@react-three/fiber";
import { useEffect, useState } from "react";
import { type Intersection, Matrix3, Matrix4, type Object3D, Raycaster, Vector2, Vector3 } from "three";
import { CHOOSING, setBench, useBench, useBenchParts } from "../state/store";
import type { Setting } from "../steps/setting";
import { meant } from "../steps/surfacePoints";
import { focusChip } from "../ui/focus";
import { entry } from "../ui/lists";
import { useView } from "../view3d/context";
import type { Vec3 } from "../view3d/matrices";
import { Stroke } from "../view3d/Stroke";

type Three = [number, number, number];
type Contact = { object: string; point: Three; normal: Three };

const CLICK_PIXELS = 4; // a pointer that went further was turning the view

export function ContactPicker({ setting }: { setting: Setting }) {
  const { pointer } = useBenchParts("pointer");
  const { tokens, size, shapes } = useView();
  const [contact, setContact] = useState<Contact | null>(null);
  const { gl, camera, scene } = useThree();
  const picking = pointer.kind === "picking" && pointer.what === "contact" ? pointer : null;
  useEffect(() => {
    if (!picking) return setContact(null);
    const canvas = gl.domElement;
    let pressed: { x: number; y: number } | null = null;
    const under = (event: PointerEvent): Contact | null => {
      const area = canvas.getBoundingClientRect();
      const at = new Vector2(
        ((event.clientX - area.left) / area.width) * 2 - 1,
        1 - ((event.clientY - area.top) / area.height) * 2,
      );
      const ray = new Raycaster();
      ray.setFromCamera(at, camera);
      const chosen = useBench.getState().sentence.objects;
      const hit = ray
        .intersectObjects(scene.children, true)
        .find((each) => each.face && owner(each.object) && !within(owner(each.object)!, chosen, setting));
      if (!hit) return null;
      const met = contactOf(hit, ray);
      const solid = setting.objects.find((item) => item.id === met.object)?.solid;
      const away = (p: Vec3) => {
        const seen = new Vector3(...p).applyMatrix4(hit.object.matrixWorld).project(camera);
        return Math.hypot(((seen.x - at.x) * area.width) / 2, ((seen.y - at.y) * area.height) / 2);
      };
      const point = solid && meant(met, solid.kind, shapes.get(met.object)?.points ?? [], away);
      return point ? { ...met, point: [...point] } : met;
    };
    const onMove = (event: PointerEvent) => {
      const found = event.buttons === 0 ? under(event) : null;
      setContact(found);
      if (found) picking.take(found); // the ghost goes along
    };
    const onDown = (event: PointerEvent) => {
      pressed = { x: event.clientX, y: event.clientY };
    };
    const onUp = (event: PointerEvent) => {
      const still =
        pressed && Math.hypot(event.clientX - pressed.x, event.clientY - pressed.y) <= CLICK_PIXELS;
      const found = still ? under(event) : null;
      if (!found) return;
      picking.take(found);
      // After the click that goes with it, which would choose what was clicked.
      setTimeout(() => {
        setBench({ pointer: CHOOSING });
        focusChip(picking.back);
      });
    };
    canvas.addEventListener("pointermove", onMove);
    canvas.addEventListener("pointerdown", onDown);
    canvas.addEventListener("pointerup", onUp);
    return () => {
      canvas.removeEventListener("pointermove", onMove);
      canvas.removeEventListener("pointerdown", onDown);
      canvas.removeEventListener("pointerup", onUp);
    };
  }, [picking, gl, camera, scene, setting, shapes]);
  if (!contact) return null;
  const matrix = new Matrix4().fromArray(entry(setting.poses, contact.object).world_from_local);
  const point = new Vector3(...contact.point).applyMatrix4(matrix);
  const normal = new Vector3(...contact.normal)
    .applyNormalMatrix(new Matrix3().getNormalMatrix(matrix))
    .multiplyScalar(size * 0.08);
  return (
    <Stroke
      points={[point.toArray(), point.clone().add(normal).toArray()]}
      color={tokens.plum}
      width={3}
      renderOrder={4}
      onTop
    />
  );
}

function owner(object: Object3D): string | null {
  return (object.userData as { object?: string }).object ?? null;
}

/** Whether an object is one of the chosen or below one of them. */
function within(id: string, chosen: readonly string[], setting: Setting): boolean {
  const parents = new Map(setting.objects.map((item) => [item.id, item.parent]));
  for (let at: string | null = id; at; at = parents.get(at) ?? null) if (chosen.includes(at)) return true;
  return false;
}

/** The point that a ray meets and the surface's normal there, in the object's own coordinates, toward the eye. */
function contactOf(hit: Intersection, ray: Raycaster): Contact {
  const local = hit.object.matrixWorld.clone().invert();
  const point = hit.point.clone().applyMatrix4(local);
  const normal = hit.face!.normal.clone();
  // A mirrored solid, or one in left-handed axes, shows its triangles from behind.
  const inPicture = normal.clone().applyNormalMatrix(new Matrix3().getNormalMatrix(hit.object.matrixWorld));
  if (inPicture.dot(ray.ray.direction) > 0) normal.negate();
  return { object: owner(hit.object)!, point: point.toArray() as Three, normal: normal.toArray() as Three };
}
