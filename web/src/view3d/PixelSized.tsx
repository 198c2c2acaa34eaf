// A group whose unit is one pixel on screen, wherever the camera stands.
import { useFrame, useThree } from "@react-three/fiber";
import { type ReactNode, useRef, useState } from "react";
import type { Camera, Group, OrthographicCamera, PerspectiveCamera } from "three";
import { Vector3 } from "three";
import type { Vec3 } from "./matrices";

type Props = { at: Vec3; children: (worldPerPixel: number) => ReactNode };

/** `children` gets the world length of a pixel there, renewed when it has changed by a twentieth. */
export function PixelSized({ at, children }: Props) {
  const group = useRef<Group>(null);
  const height = useThree((state) => state.size.height);
  const [rough, setRough] = useState(0);
  const place = useRef(new Vector3());

  useFrame(({ camera }) => {
    if (!group.current) return;
    const worldPerPixel = worldPerPixelAt(camera, group.current.getWorldPosition(place.current), height);
    if (group.current.scale.x !== worldPerPixel) group.current.scale.setScalar(worldPerPixel);
    if (Math.abs(worldPerPixel / rough - 1) > 0.05 || rough === 0) setRough(worldPerPixel);
  });

  return (
    <group ref={group} position={at as [number, number, number]}>
      {rough > 0 && children(rough)}
    </group>
  );
}

/** The world length of a pixel at a place. */
export function worldPerPixelAt(camera: Camera, place: Vector3, height: number): number {
  if ("isOrthographicCamera" in camera) {
    const flat = camera as OrthographicCamera;
    return (flat.top - flat.bottom) / flat.zoom / height;
  }
  const free = camera as PerspectiveCamera;
  const depth = -place.clone().applyMatrix4(free.matrixWorldInverse).z;
  return (2 * Math.tan((free.fov * Math.PI) / 360) * Math.max(depth, free.near)) / free.zoom / height;
}
