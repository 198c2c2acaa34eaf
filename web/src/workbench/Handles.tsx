// The handles of the operation that the sentence names, at the chosen pivot, along the chosen space.
import { memo, type ReactNode, useEffect, useMemo } from "react";
import type { Pivot, Space, Step } from "../api/types";
import type { AxisOp } from "../state/sentence";
import { dragOf, setBench, useBench, useBenchParts, useSentenceParts } from "../state/store";
import type { HandleProps } from "../steps/axisKind";
import { axisKindOf } from "../steps/axisKinds";
import { withAxisInSight } from "../steps/axisSentence";
import { frameOf, pivotWorld, type Setting, topmost } from "../steps/setting";
import { spaceOf } from "../steps/spaces";
import { entry } from "../ui/lists";
import { axesInSight } from "../view3d/dragGeometry";
import { Label } from "../view3d/Label";
import { cross, type Vec3 } from "../view3d/matrices";
import { PixelSized } from "../view3d/PixelSized";
import { useStepDrag } from "./useStepDrag";

/** The handles of a kind, which are drawn anew only when what they stand by has changed. */
const HandlesOfKind = memo(function HandlesOfKind({ op, ...props }: HandleProps & { op: AxisOp }) {
  const { Handles: Chosen } = axisKindOf(op);
  return <Chosen key={op} {...props} />;
});

export function Handles({ setting, onStep }: { setting: Setting; onStep: (step: Step) => void }) {
  const { directions, main } = useBenchParts("directions", "main");
  const { op, space, pivot, objects } = useSentenceParts("op", "space", "pivot", "objects");
  // All that the handles stand by stays the same while a drag goes on, so that only their place is drawn anew.
  const stand = useMemo(
    () => standOf(op, spaceOf(space, directions), pivot, objects, setting),
    [op, space, directions, pivot, objects, setting],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each way of looking; then any axis may be chosen
  useEffect(() => {
    if (!stand || main === "free") return;
    const toward = cross(directions.right, directions.up);
    const { sentence } = useBench.getState();
    setBench({ sentence: withAxisInSight(sentence, axesInSight(stand.axes, toward)) });
  }, [main, directions]);
  const drag = useStepDrag(setting, onStep);
  if (!stand) return null;
  return (
    <FollowDrag primary={stand.primary} centre={stand.centre} follows={axisKindOf(op).handlesFollow}>
      {(worldPerPixel) => (
        <HandlesOfKind op={op} {...stand} setting={setting} worldPerPixel={worldPerPixel} drag={drag} />
      )}
    </FollowDrag>
  );
}

type Stand = Pick<HandleProps, "primary" | "ids" | "axes" | "centre">;

function standOf(
  op: AxisOp,
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
  const own = entry(setting.poses, primary).pivot_world;
  const atOwn = axisKindOf(op).handlesFollow;
  const centre = atOwn ? own : (pivotWorld(pivot, setting, primary, ids) ?? own);
  return { primary, ids, axes: frame.axes, centre };
}

type FollowProps = {
  primary: string;
  centre: Vec3;
  follows: boolean;
  children: (worldPerPixel: number) => ReactNode;
};

/** The place of the handles, which go along with what they move, and the amount beside them. */
function FollowDrag({ primary, centre, follows, children }: FollowProps) {
  const drag = useBench((state) => dragOf(state));
  const at = follows ? (drag?.changed[primary]?.pivot_world ?? centre) : centre;
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
