// Signs of depth: a plumb line from the chosen solid to the ground with its footprint there, and the two points of a measure.
import { useMemo } from "react";
import type { Exercise, SceneState } from "../api/types";
import { useBench } from "../state/store";
import { type Plumb, plumbOf } from "../steps/depth";
import type { Setting } from "../steps/setting";
import { nth } from "../ui/lists";
import { useView } from "../view3d/context";
import { Label } from "../view3d/Label";
import type { Vec3 } from "../view3d/matrices";
import { Stroke } from "../view3d/Stroke";
import { boxesOf } from "./draft";

/** The plumb line of what is chosen, as the core last told its box. */
export function usePlumb(
  setting: Setting,
  state: SceneState,
  conventions: Exercise["conventions"],
): Plumb | null {
  const chosen = useBench((bench) => bench.sentence.objects.at(-1));
  return useMemo(
    () => (chosen === undefined ? null : plumbOf(chosen, setting.objects, boxesOf(state), conventions)),
    [chosen, setting.objects, state, conventions],
  );
}

export function PlumbLine({ plumb }: { plumb: Plumb }) {
  const { tokens, size } = useView();
  return (
    <>
      <Stroke
        points={[...plumb.footprint, nth(plumb.footprint, 0)]}
        color={tokens["ink-soft"]}
        opacity={0.7}
      />
      <Stroke
        points={[plumb.from, plumb.to]}
        color={tokens["ink-soft"]}
        width={1.2}
        dash={[size * 0.006, size * 0.004]}
      />
      <Label at={plumb.to} shift="-50%, 12px">
        <span
          data-height
          className="rounded-sm bg-sheet/85 px-1 font-mono text-sm whitespace-nowrap text-ink-soft"
        >
          {plumb.words}
        </span>
      </Label>
    </>
  );
}

export function MeasuredLine() {
  const { tokens } = useView();
  const points = useBench((state) => state.measured);
  if (!points) return null;
  const [from, to] = points as readonly [Vec3, Vec3];
  return (
    <>
      <Stroke points={[from, to]} color={tokens.plum} width={2} onTop renderOrder={5} />
      {[from, to].map((point, i) => (
        <Label key={i === 0 ? "from" : "to"} at={point} shift="-50%, -50%">
          <span className="block size-2 rounded-full border border-plum bg-sheet" />
        </Label>
      ))}
    </>
  );
}
