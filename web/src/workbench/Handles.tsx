// The handles of the operation that the sentence names, at the chosen pivot, along the chosen space.
import { memo, type ReactNode, useEffect, useMemo } from "react";
import type { Pivot, Space, Step } from "../api/types";
import { axesInSight } from "../view3d/dragGeometry";
import { Label } from "../view3d/Label";
import { cross, type Vec3 } from "../view3d/matrices";
import { PixelSized } from "../view3d/PixelSized";
import type { HandleProps } from "./handleProps";
import { MoveHandles } from "./MoveHandles";
import { frameOf, pivotWorld, type Setting, topmost } from "./preview";
import { RotateHandles } from "./RotateHandles";
import { ScaleHandles } from "./ScaleHandles";
import { type Operation, spaceOf, withAxisInSight } from "./sentence";
import { dragOf, useBench, useBenchParts } from "./store";

const HANDLES = { move: memo(MoveHandles), rotate: memo(RotateHandles), scale: memo(ScaleHandles) };

export function Handles({ setting, onStep }: { setting: Setting; onStep: (step: Step) => void }) {
  const { sentence, directions, main, set } = useBenchParts("sentence", "directions", "main", "set");
  const { op, space, pivot, objects } = sentence;
  // All that the handles stand by stays the same while a drag goes on, so that only their place is drawn anew.
  const stand = useMemo(
    () => standOf(op, spaceOf(space, directions), pivot, objects, setting),
    [op, space, directions, pivot, objects, setting],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each way of looking; then any axis may be chosen
  useEffect(() => {
    if (!stand || main === "free") return;
    const toward = cross(directions.right, directions.up);
    set({ sentence: withAxisInSight(sentence, axesInSight(stand.axes, toward)) });
  }, [main, directions]);
  if (!stand) return null;
  const Chosen = HANDLES[op];
  return (
    <FollowDrag primary={stand.primary} centre={stand.centre} moves={op === "move"}>
      {(worldPerPixel) => (
        <Chosen {...stand} setting={setting} worldPerPixel={worldPerPixel} onStep={onStep} />
      )}
    </FollowDrag>
  );
}

type Stand = Pick<HandleProps, "primary" | "ids" | "axes" | "centre">;

function standOf(
  op: Operation,
  space: Space,
  pivot: Pivot,
  objects: readonly string[],
  setting: Setting,
): Stand | null {
  const ids = topmost(
    objects.filter((id) => setting.poses[id]),
    setting.objects,
  );
  const primary = ids.at(-1);
  const frame = primary === undefined ? null : frameOf(space, setting, primary);
  if (primary === undefined || !frame) return null;
  const own = setting.poses[primary]!.pivot_world;
  const centre = op === "move" ? own : (pivotWorld(pivot, setting, primary, ids) ?? own);
  return { primary, ids, axes: frame.axes, centre };
}

type FollowProps = {
  primary: string;
  centre: Vec3;
  moves: boolean;
  children: (worldPerPixel: number) => ReactNode;
};

/** The place of the handles, which go along with what they move, and the amount beside them. */
function FollowDrag({ primary, centre, moves, children }: FollowProps) {
  const drag = useBench((state) => dragOf(state));
  const at = moves ? (drag?.changed[primary]?.pivot_world ?? centre) : centre;
  return (
    <PixelSized at={at}>
      {(worldPerPixel) => (
        <>
          {children(worldPerPixel)}
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
