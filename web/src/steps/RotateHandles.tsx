// The handles for turning: a ring for each axis of the space, and one that faces the viewer.
import { useMemo, useState } from "react";
import type { Rotate, Space } from "../api/types";
import { withOnlyAxis } from "../state/sentence";
import { changeSentence, dragOf, useBench, useBenchParts, useSentenceParts } from "../state/store";
import { nth } from "../ui/lists";
import { short } from "../ui/numbers";
import { useView } from "../view3d/context";
import { clearestAngle, dragOnCircle, nearestMultiple, squareTo, unwound } from "../view3d/dragGeometry";
import { AXIS_TEXT, AXIS_TOKENS } from "../view3d/Ground";
import { AXIS_INDICES, AXIS_NAMES, type AxisIndex, type Vec3 } from "../view3d/matrices";
import { Ring } from "../view3d/Ring";
import type { HandleProps, Meaning } from "./axisKind";
import { frameOf, radiansPer } from "./setting";
import { spaceOf } from "./spaces";

// Pixels.
const RADIUS = 84;
const VIEW_RADIUS = 110;
/** How fine a free drag is, in each unit: about a tenth of a degree. */
const GRAINS = { deg: 0.1, rad: 0.002, turn: 0.0005 };

type Sweep = { name: string; fromRad: number; byRad: number };

export function RotateHandles({ setting, primary, ids, axes, centre, drag }: HandleProps) {
  const { tokens } = useView();
  const { directions, sizes } = useBenchParts("directions", "sizes");
  const sentence = useSentenceParts("space", "pivot", "lit");
  const [sweep, setSweep] = useState<Sweep | null>(null);
  const under = useBench(dragOf);
  const space = spaceOf(sentence.space, directions);
  const view = useMemo<Space>(
    () => ({ view: { right: [...directions.right], up: [...directions.up] } }),
    [directions],
  );
  const toward = useMemo(() => frameOf(view, setting, primary)?.axes[2], [view, setting, primary]);
  const { angle: unit } = setting.conventions;
  const perUnit = radiansPer(setting.conventions);
  const tickRad = sizes.rotate * perUnit;

  const about = (
    axis: AxisIndex,
    inSpace: Space,
    direction: Vec3,
    name: string,
  ): Meaning<{ at: number; gone: number }> => {
    const circle = { centre, axis: direction, zero: squareTo(direction) };
    return {
      begin(ray) {
        const met = dragOnCircle(ray, circle);
        if (met.kind === "edge-on")
          return { why: `The ${name} ring is edge-on from here; turn the view, or type the angle.` };
        const state = useBench.getState();
        if (inSpace !== view) changeSentence(withOnlyAxis({ ...state.sentence, mode: "by" }, axis));
        return { start: { at: met.angleRad, gone: 0 } };
      },
      step(ray, start, { snap }) {
        const met = dragOnCircle(ray, circle);
        if (met.kind === "edge-on") return null;
        start.gone = unwound(met.angleRad - start.at, start.gone);
        const angle = nearestMultiple(start.gone / perUnit, snap ? sizes.rotate : GRAINS[unit]);
        setSweep({ name, fromRad: start.at, byRad: angle * perUnit });
        if (angle === 0) return null;
        const step: Rotate = {
          op: "rotate",
          objects: [...ids],
          space: inSpace,
          axis: "xyz"[axis] as "x" | "y" | "z",
          angle,
          pivot: sentence.pivot,
          entry: "dragged",
        };
        return { step, amount: unit === "deg" ? `${short(angle)}°` : `${short(angle)} ${unit}` };
      },
    };
  };
  const letters = useMemo(() => {
    const rings = [...axes, ...(toward ? [toward] : [])].map((axis, i) => {
      return { centre, axis, zero: squareTo(axis), radius: i < axes.length ? RADIUS : VIEW_RADIUS };
    });
    return rings.map((ring) => clearestAngle([ring, ...rings.filter((other) => other !== ring)], directions));
  }, [axes, toward, centre, directions]);
  const shown = (name: string) => (under && sweep?.name === name ? sweep : null);

  return (
    <>
      {AXIS_INDICES.map((axis) => (
        <Ring
          key={axis}
          name={`ring ${AXIS_NAMES[axis]}`}
          letter={AXIS_NAMES[axis]}
          letterClass={AXIS_TEXT[axis]}
          letterRad={nth(letters, axis)}
          axis={axes[axis]}
          zero={squareTo(axes[axis])}
          radius={RADIUS}
          colour={tokens[AXIS_TOKENS[axis]]}
          lit={sentence.lit === axis}
          tickRad={tickRad}
          sweep={shown(AXIS_NAMES[axis])}
          actions={drag(about(axis, space, axes[axis], AXIS_NAMES[axis]))}
        />
      ))}
      {toward && (
        <Ring
          name="ring view"
          letter="view"
          letterClass="text-plum text-sm"
          letterRad={nth(letters, 3)}
          axis={toward}
          zero={squareTo(toward)}
          radius={VIEW_RADIUS}
          colour={tokens.plum}
          lit={false}
          tickRad={tickRad}
          sweep={shown("view")}
          actions={drag(about(2, view, toward, "view"))}
        />
      )}
    </>
  );
}
