// What the handles of every operation are given.
import type { Step } from "../api/types";
import type { Axes, Vec3 } from "../view3d/matrices";
import type { Setting } from "./preview";

export type HandleProps = {
  setting: Setting;
  /** The object that the handles stand at, of those that are acted on. */
  primary: string;
  ids: readonly string[];
  axes: Axes;
  centre: Vec3;
  worldPerPixel: number;
  onStep: (step: Step) => void;
};
