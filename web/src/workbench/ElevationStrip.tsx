// The strip of three elevations: what is right in one and off in another is seen without moving the camera.
import { memo, useMemo, useState } from "react";
import type { CheckResult, Exercise, Poses } from "../api/types";
import { dragOf, setBench, useBench, useBenchParts } from "../state/store";
import type { Plumb } from "../steps/depth";
import type { Setting } from "../steps/setting";
import { cornersOf } from "../view3d/bounds";
import { workIds } from "../view3d/camera";
import type { Shape } from "../view3d/context";
import { Drawing } from "../view3d/Drawing";
import { axisAlong, LOOKS, SIDE_WORDS, type Side } from "../view3d/elevations";
import { useGhostParts } from "./GhostBodies";

type Props = {
  exercise: Exercise;
  setting: Setting;
  shapes: ReadonlyMap<string, Shape>;
  gaps: readonly CheckResult[];
  plumb: Plumb | null;
};

export const ElevationStrip = memo(function ElevationStrip({
  exercise,
  setting,
  shapes,
  gaps,
  plumb,
}: Props) {
  const poses = useShownPoses(setting);
  const ghost = useGhostParts(setting);
  const [open, setOpen] = useState(false); // where there is too little room the strip is folded
  const { main } = useBenchParts("main");
  const chosen = useBench((state) => state.sentence.objects);
  // What is in sight stays the same while a drag goes on: only the settled places are looked at.
  const around = useMemo(() => {
    const work = new Set(workIds(exercise));
    const free = setting.objects.filter((item) => work.has(item.id) || !exercise.start[item.id]);
    const started = exercise.objects.filter((item) => work.has(item.id));
    return [
      ...cornersOf(free, setting.poses),
      ...cornersOf(started, exercise.start),
      ...cornersOf(exercise.target_objects, exercise.target),
    ];
  }, [exercise, setting]);
  const tolerance = useMemo(() => smallest(gaps), [gaps]);
  const sides: Side[] = (["front", "side", "top"] as const).map((side) => (side === main ? "free" : side));
  const strip = sides.filter((side) => exercise.views.includes(side));
  if (strip.length === 0) return null;
  return (
    <section aria-label="Elevations" className="shrink-0 border-t border-hairline">
      <button
        type="button"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        className="hidden w-full px-4 py-1.5 text-left font-semibold hover:bg-well cramped:block"
      >
        {open ? "▾" : "▸"} Front, side and top
      </button>
      <div className={open ? "cramped:grid cramped:grid-cols-3" : "cramped:hidden"}>
        {strip.map((side) => (
          <button
            key={side}
            type="button"
            onClick={() => setBench({ main: side })}
            className="relative block h-[clamp(6.5rem,14.5vh,8.25rem)] w-full border-b border-hairline bg-paper hover:bg-well"
          >
            <Drawing
              side={side}
              objects={setting.objects}
              poses={poses}
              around={around}
              exercise={exercise}
              chosen={chosen}
              shapes={shapes}
              tolerance={tolerance}
              ghost={ghost}
              plumb={plumb}
            />
            <span className="absolute top-1 left-1 rounded-sm bg-sheet/85 px-1 text-sm font-semibold">
              {SIDE_WORDS[side]}
              <span className="sr-only"> show in the main view</span>
            </span>
            <span
              aria-hidden
              className="absolute right-1 bottom-1 rounded-sm bg-sheet/85 px-1 font-mono text-sm text-ink-soft"
            >
              {letters(side, exercise.picture_from_world)}
            </span>
          </button>
        ))}
      </div>
    </section>
  );
});

function letters(side: Side, picture_from_world: readonly number[]): string {
  if (side === "free") return "";
  return `${axisAlong(picture_from_world, LOOKS[side].right)} → ${axisAlong(picture_from_world, LOOKS[side].up)} ↑`;
}

function smallest(gaps: readonly CheckResult[]): number {
  const all = gaps.flatMap((gap) => gap.tolerance).filter((tolerance) => tolerance > 0);
  return all.length > 0 ? Math.min(...all) : 0.001;
}

/** Where everything is shown: as the work stands, or as the drag under way would have it. */
export function useShownPoses(setting: Setting): Poses {
  const drag = useBench(dragOf);
  return useMemo(() => (drag ? { ...setting.poses, ...drag.changed } : setting.poses), [setting, drag]);
}
