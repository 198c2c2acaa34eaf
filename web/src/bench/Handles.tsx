// The handles of the operation that the sentence names, at the chosen pivot, along the chosen space.
import type { Step } from "../api/types";
import { Label } from "../view3d/Label";
import type { Axes, Vec3 } from "../view3d/matrices";
import { PixelSized } from "../view3d/PixelSized";
import { MoveHandles } from "./MoveHandles";
import { frameOf, pivotWorld, type Setting, topmost } from "./preview";
import { RotateHandles } from "./RotateHandles";
import { ScaleHandles } from "./ScaleHandles";
import { spaceOf } from "./sentence";
import { useBench } from "./store";

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

const HANDLES = { move: MoveHandles, rotate: RotateHandles, scale: ScaleHandles };

export function Handles({ setting, onStep }: { setting: Setting; onStep: (step: Step) => void }) {
  const sentence = useBench((state) => state.sentence);
  const drag = useBench((state) => state.drag);
  const directions = useBench((state) => state.directions);
  const ids = topmost(
    sentence.objects.filter((id) => setting.poses[id]),
    setting.objects,
  );
  const primary = ids.at(-1);
  if (primary === undefined) return null;
  const frame = frameOf(spaceOf(sentence.space, directions), setting, primary);
  if (!frame) return null;
  const centre =
    sentence.op === "move"
      ? setting.poses[primary]!.pivot_world
      : (pivotWorld(sentence.pivot, setting, primary, ids) ?? setting.poses[primary]!.pivot_world);
  const shown = sentence.op === "move" ? (drag?.changed[primary]?.pivot_world ?? centre) : centre;
  const Chosen = HANDLES[sentence.op];
  return (
    <PixelSized at={shown}>
      {(worldPerPixel) => (
        <>
          <Chosen
            setting={setting}
            primary={primary}
            ids={ids}
            axes={frame.axes}
            centre={centre}
            worldPerPixel={worldPerPixel}
            onStep={onStep}
          />
          {drag && (
            <Label shift="14px, 14px">
              <output className="rounded-sm bg-ink px-1.5 py-0.5 font-mono text-sm whitespace-nowrap text-paper">
                {drag.amount}
              </output>
            </Label>
          )}
        </>
      )}
    </PixelSized>
  );
}
