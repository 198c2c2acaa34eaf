// Spaces and pivots as people say them, and as a step has them. Pure.
import type { Pivot, SceneObject, Space, Step } from "../api/types";
import type { SpaceChoice } from "../state/sentence";
import { nth } from "../ui/lists";
import type { Directions } from "../view3d/camera";
import { pointWords } from "./features";

const PIVOT_WORDS = {
  own: "its pivot",
  box: "the centre of its box",
  selection: "the middle of the selection",
  origin: "the origin",
  marker: "the marker",
};

export function spaceWords(space: SpaceChoice, objects: readonly SceneObject[]): string {
  if (typeof space === "string") return nth(space, 0).toUpperCase() + space.slice(1);
  if ("object" in space)
    return `the axes of ${objects.find((item) => item.id === space.object)?.name ?? space.object}`;
  return `the line from ${pointWords(space.line[0], objects)} to ${pointWords(space.line[1], objects)}`;
}

export function pivotWords(pivot: Pivot, objects: readonly SceneObject[]): string {
  return typeof pivot === "string" ? PIVOT_WORDS[pivot] : pointWords(pivot, objects);
}

export function spaceOf(space: SpaceChoice, view: Directions): Space {
  return space === "view" ? { view: { right: [...view.right], up: [...view.up] } } : space;
}

/** A step along the axes of the view says where these point at this moment. */
export function inView(step: Step, directions: Directions): Step {
  return "space" in step && (step.space as SpaceChoice) === "view"
    ? ({ ...step, space: spaceOf("view", directions) } as Step)
    : step;
}
