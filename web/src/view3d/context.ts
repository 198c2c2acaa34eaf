// What the parts of a view share: the exercise, the tokens, and the geometry of its solids, made once.
import { createContext, type RefObject, useContext, useEffect, useMemo, useRef } from "react";
import type { BufferGeometry } from "three";
import type { Exercise, SceneObject, Solid } from "../api/types";
import type { Tokens } from "../ui/theme";
import type { Vec3 } from "./matrices";
import { edgesOf, outlineOf, solidGeometry, type Up } from "./solidGeometry";

type View = {
  exercise: Exercise;
  objects: readonly SceneObject[];
  tokens: Tokens;
  size: number;
  shapes: ReadonlyMap<string, Shape>;
  /** Of the objects as they are in the target. */
  targets: ReadonlyMap<string, Shape>;
  labels: RefObject<HTMLDivElement | null>;
};

/** points: ends of the outline's lines, two and two, as numbers for flat drawings. */
export type Shape = {
  faces: BufferGeometry;
  edges: BufferGeometry;
  outline: BufferGeometry;
  points: readonly Vec3[];
};

export const ViewContext = createContext<View | null>(null);

export function useView(): View {
  const view = useContext(ViewContext);
  if (!view) throw new Error("useView belongs inside SceneView");
  return view;
}

/** Geometry of every object with a solid, by id: made once a solid, and given back when the screen goes. */
export function useShapes(objects: readonly SceneObject[], up: Up): ReadonlyMap<string, Shape> {
  const made = useRef(new Map<string, Shape>());
  useEffect(() => {
    const shapes = made.current;
    return () => {
      for (const { faces, edges, outline } of shapes.values()) {
        for (const geometry of [faces, edges, outline]) geometry.dispose();
      }
      shapes.clear();
    };
  }, []);
  return useMemo(() => {
    const shapeOf = (solid: Solid): Shape => {
      const key = `${up} ${JSON.stringify(solid)}`;
      const shape = made.current.get(key) ?? newShape(solid, up);
      made.current.set(key, shape);
      return shape;
    };
    return new Map(objects.flatMap((item) => (item.solid ? [[item.id, shapeOf(item.solid)] as const] : [])));
  }, [objects, up]);
}

function newShape(solid: Solid, up: Up): Shape {
  const faces = solidGeometry(solid, up);
  faces.computeBoundingBox();
  const outline = outlineOf(solid, faces, up);
  const places = outline.getAttribute("position");
  const points = Array.from(
    { length: places.count },
    (_, i): Vec3 => [places.getX(i), places.getY(i), places.getZ(i)],
  );
  return { faces, edges: edgesOf(faces), outline, points };
}

/** What a click on a solid asks for: it alone, or to add it to what is chosen or take it away. */
export type Choice = "alone" | "switch";
