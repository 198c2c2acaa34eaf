// The solids as they stand, the target's outlines, and the brackets around what is chosen.
import { type ThreeEvent, useFrame, useThree } from "@react-three/fiber";
import { memo, useLayoutEffect, useMemo, useRef } from "react";
import {
  type BufferGeometry,
  DoubleSide,
  type LineDashedMaterial,
  type LineSegments,
  Matrix4,
  Vector3,
} from "three";
import type { Pose, SceneObject } from "../api/types";
import { nth } from "../ui/lists";
import type { Choice, Shape } from "./context";
import { useView } from "./context";
import { Label } from "./Label";
import { worldPerPixelAt } from "./PixelSized";
import { Placed } from "./Placed";
import { Stroke } from "./Stroke";

const CLICK_PIXELS = 4; // a pointer that went further was turning the view

function matrixOf(pose: Pose): Matrix4 {
  return new Matrix4().fromArray(pose.world_from_local);
}

export type Shading = "shaded" | "see-through" | "wireframe";

type SolidProps = {
  item: SceneObject;
  pose: Pose;
  shading: Shading;
  onChoose?: ((id: string, choice: Choice) => void) | undefined;
};

export const SolidBody = memo(function SolidBody({ item, pose, shading, onChoose }: SolidProps) {
  const { shapes, tokens } = useView();
  const shape = shapes.get(item.id);
  const matrix = useMemo(() => matrixOf(pose), [pose]);
  if (!shape) return null;
  const choose = (event: ThreeEvent<MouseEvent>) => {
    if (event.delta > CLICK_PIXELS) return;
    event.stopPropagation();
    onChoose?.(item.id, event.ctrlKey || event.metaKey || event.shiftKey ? "switch" : "alone");
  };
  const opacity = shading === "shaded" ? item.opacity : shading === "see-through" ? 0.3 * item.opacity : 0;
  return (
    <Placed matrix={matrix}>
      <mesh geometry={shape.faces} userData={{ object: item.id }} onClick={onChoose ? choose : undefined}>
        <meshLambertMaterial
          key={shading}
          color={item.colour}
          side={DoubleSide}
          transparent={opacity < 1}
          opacity={opacity}
          depthWrite={opacity === 1}
          polygonOffset
          polygonOffsetFactor={1}
          polygonOffsetUnits={1}
        />
      </mesh>
      <lineSegments geometry={shading === "wireframe" ? shape.outline : shape.edges}>
        <lineBasicMaterial
          color={shading === "wireframe" ? tokens.ink : tokens["scene-edge"]}
          transparent
          opacity={item.locked ? 0.35 : 0.9}
        />
      </lineSegments>
    </Placed>
  );
});

// Pixels.
const DASH = 7;
const GAP = 5;

/** The target: dashed edges, no fill. The dashes have the same length on screen from near and from far. */
export const Outline = memo(function Outline({ shape, pose }: { shape: Shape | undefined; pose: Pose }) {
  const { tokens } = useView();
  const lines = useRef<LineSegments<BufferGeometry, LineDashedMaterial>>(null);
  const height = useThree((state) => state.size.height);
  const matrix = useMemo(() => matrixOf(pose), [pose]);
  useLayoutEffect(() => {
    if (shape) lines.current?.computeLineDistances();
  }, [shape]);
  useFrame(({ camera }) => {
    if (!lines.current) return;
    const { matrixWorld, material } = lines.current;
    const worldPerPixel = worldPerPixelAt(camera, new Vector3().setFromMatrixPosition(matrixWorld), height);
    const localPerPixel = worldPerPixel / Math.cbrt(Math.abs(matrixWorld.determinant()) || 1);
    material.dashSize = DASH * localPerPixel;
    material.gapSize = GAP * localPerPixel;
  });
  if (!shape) return null;
  return (
    <Placed matrix={matrix}>
      <lineSegments ref={lines} geometry={shape.outline} renderOrder={2}>
        <lineDashedMaterial color={tokens.ink} />
      </lineSegments>
    </Placed>
  );
});

/** Plum corner brackets around the chosen solid, and its name. */
export function Brackets({ item, pose }: { item: SceneObject; pose: Pose }) {
  const { shapes, tokens } = useView();
  const box = shapes.get(item.id)?.faces.boundingBox;
  const matrix = useMemo(() => matrixOf(pose), [pose]);
  const segments = useMemo(() => (box ? bracketSegments(box.min.toArray(), box.max.toArray()) : []), [box]);
  if (!box) return null;
  const corner: [number, number, number] = [box.min.x, box.max.y, box.min.z];
  return (
    <Placed matrix={matrix}>
      <Stroke points={segments} pairs color={tokens.plum} width={2.5} renderOrder={3} />
      <Label at={corner} shift="-100%, -120%">
        <span className="rounded-sm bg-sheet/85 px-1 text-sm font-semibold whitespace-nowrap text-plum">
          {item.name}
        </span>
      </Label>
    </Placed>
  );
}

type Three = [number, number, number];

/** At each of the eight corners a short line along each edge, a little outside the box. */
function bracketSegments(min: Three, max: Three): Three[] {
  const size = max.map((high, i) => high - nth(min, i));
  const away = Math.max(...size) * 0.03;
  const points: Three[] = [];
  for (let corner = 0; corner < 8; corner++) {
    const signs = [0, 1, 2].map((i) => (corner & (1 << i) ? 1 : -1));
    const from = signs.map((sign, i) => (sign > 0 ? nth(max, i) : nth(min, i)) + sign * away) as Three;
    for (const axis of [0, 1, 2]) {
      const to = [...from] as Three;
      to[axis] = nth(to, axis) - nth(signs, axis) * (nth(size, axis) * 0.2 + away);
      points.push(from, to);
    }
  }
  return points;
}
