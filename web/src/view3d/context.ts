// What the parts of a view share: the exercise, the tokens, and the geometry of its solids, made once.
import { createContext, type RefObject, useContext, useEffect, useMemo } from "react";
import type { BufferGeometry } from "three";
import type { Exercise, SceneObject } from "../api/types";
import type { Tokens } from "../ui/theme";
import { edgesOf, outlineOf, solidGeometry } from "./solidGeometry";

type View = {
  exercise: Exercise;
  tokens: Tokens;
  size: number;
  shapes: ReadonlyMap<string, Shape>;
  labels: RefObject<HTMLDivElement | null>;
};
export type Shape = { faces: BufferGeometry; edges: BufferGeometry; outline: BufferGeometry };

export const ViewContext = createContext<View | null>(null);

export function useView(): View {
  const view = useContext(ViewContext);
  if (!view) throw new Error("useView belongs inside SceneView");
  return view;
}

/** Faces and edges of every object with a solid, by id; given back to the graphics card when no longer shown. */
export function useShapes(exercise: Exercise): ReadonlyMap<string, Shape> {
  const shapes = useMemo(
    () => new Map(exercise.objects.flatMap((item) => shapeOf(item, exercise))),
    [exercise],
  );
  useEffect(
    () => () => {
      for (const shape of shapes.values()) {
        for (const geometry of Object.values(shape)) geometry.dispose();
      }
    },
    [shapes],
  );
  return shapes;
}

function shapeOf(item: SceneObject, exercise: Exercise): [string, Shape][] {
  if (!item.solid) return [];
  const faces = solidGeometry(item.solid, exercise.conventions.up);
  faces.computeBoundingBox();
  return [
    [
      item.id,
      { faces, edges: edgesOf(faces), outline: outlineOf(item.solid, faces, exercise.conventions.up) },
    ],
  ];
}
