// Align by pointing: along each axis a rail, and across it the planes at the near side, middle and far side of the reference.
import { useState } from "react";
import { useBench } from "../state/store";
import { entry, nth } from "../ui/lists";
import { type Shape, useView } from "../view3d/context";
import { AXIS_TEXT, AXIS_TOKENS } from "../view3d/Ground";
import { Label } from "../view3d/Label";
import {
  AXIS_INDICES,
  AXIS_NAMES,
  type Axes,
  type AxisIndex,
  add,
  along,
  dot,
  each,
  mapped,
  scaled,
  type Vec3,
} from "../view3d/matrices";
import { Stroke } from "../view3d/Stroke";
import { axisLetter } from "./axisKind";
import type { DrawingProps } from "./kind";
import { descendants, frameOf, type Setting, topmost } from "./setting";
import { spaceOf } from "./spaces";

type Side = "min" | "centre" | "max";
const SIDES: readonly Side[] = ["min", "centre", "max"];
const SIDE_WORDS = { min: "−", centre: "mid", max: "+" };

/** A box along axes that are square to each other, as numbers along these. */
type Extent = { least: Vec3; most: Vec3 };

export function AlignPlanes({ values, change, context, setting }: DrawingProps<"align">) {
  const { shapes } = useView();
  const directions = useBench((state) => state.directions);
  const ids = topmost(context.chosen, setting.objects);
  const primary = ids.at(-1);
  const space = spaceOf((values.space ?? "world") as never, directions);
  const axes = primary === undefined ? undefined : frameOf(space, setting, primary)?.axes;
  if (primary === undefined || !axes) return null;
  const references = values.to === "selection" ? ids : [values.to ?? ""];
  const [own, wanted] = [[primary], references].map((of) => extentOf(of, axes, setting, shapes));
  if (!own || !wanted) return null;
  return AXIS_INDICES.map((axis) => (
    <AxisPlanes
      key={axis}
      axis={axis}
      axes={axes}
      own={own}
      wanted={wanted}
      set={values[axisLetter(axis)] ?? null}
      onSet={(side) => change({ [axisLetter(axis)]: side })}
    />
  ));
}

type PlanesProps = {
  axis: AxisIndex;
  axes: Axes;
  own: Extent;
  wanted: Extent;
  set: Side | null;
  onSet: (side: Side | null) => void;
};

function AxisPlanes({ axis, axes, own, wanted, set, onSet }: PlanesProps) {
  const { tokens, size } = useView();
  const [before, setBefore] = useState<{ side: Side | null } | null>(null);
  const middle = middleOf(own);
  const at = (value: number) =>
    along(
      axes,
      each((k) => (k === axis ? value : middle[k])),
    );
  const places = {
    min: wanted.least[axis],
    centre: (wanted.least[axis] + wanted.most[axis]) / 2,
    max: wanted.most[axis],
  };
  const [first, last] = [Math.min(places.min, own.least[axis]), Math.max(places.max, own.most[axis])];
  const across = AXIS_INDICES.filter((k) => k !== axis);
  const [u, v] = across.map((k) => scaled(axes[k], (own.most[k] - own.least[k]) / 2 + size * 0.02)) as [
    Vec3,
    Vec3,
  ];
  const paint = { color: tokens[AXIS_TOKENS[axis]], onTop: true, renderOrder: 5 } as const;
  return (
    <>
      <Stroke points={[at(first), at(last)]} opacity={0.5} {...paint} />
      {SIDES.map((side) => {
        const centre = at(places[side]);
        const corners = [
          [1, 1],
          [1, -1],
          [-1, -1],
          [-1, 1],
          [1, 1],
        ].map(([a, b]) => add(centre, add(scaled(u, a!), scaled(v, b!))));
        return (
          <group key={side}>
            <Stroke
              points={corners}
              width={set === side ? 2.5 : 1}
              opacity={set === side ? 1 : 0.55}
              {...paint}
            />
            <Label live at={nth(corners, 0)}>
              <button
                type="button"
                tabIndex={-1}
                aria-label={`${AXIS_NAMES[axis]}${SIDE_WORDS[side]} plane`}
                aria-pressed={set === side && before === null}
                onPointerEnter={() => {
                  setBefore({ side: set });
                  onSet(side);
                }}
                onPointerLeave={() => {
                  if (before) onSet(before.side);
                  setBefore(null);
                }}
                onClick={() => {
                  const off = before?.side === side;
                  setBefore({ side: off ? null : side });
                  onSet(off ? null : side);
                }}
                className={`pointer-events-auto rounded-sm border border-hairline px-1 font-mono text-sm leading-tight ${set === side ? "bg-plum-soft font-bold" : "bg-sheet/85"} ${AXIS_TEXT[axis]}`}
              >
                {AXIS_NAMES[axis]}
                {SIDE_WORDS[side]}
              </button>
            </Label>
          </group>
        );
      })}
    </>
  );
}

function middleOf({ least, most }: Extent): Vec3 {
  return each((k) => (least[k] + most[k]) / 2);
}

/** The box of objects with all below them along some axes, as near as they are drawn; what it leads to the core says. */
function extentOf(
  ids: readonly string[],
  axes: Axes,
  setting: Setting,
  shapes: ReadonlyMap<string, Shape>,
): Extent | null {
  const points = ids
    .flatMap((id) => [id, ...descendants(id, setting.objects)])
    .flatMap((id) =>
      (shapes.get(id)?.points ?? []).map((point) => mapped(entry(setting.poses, id).world_from_local, point)),
    );
  if (points.length === 0) return null;
  const along_ = (k: AxisIndex) => points.map((point) => dot(axes[k], point));
  return { least: each((k) => Math.min(...along_(k))), most: each((k) => Math.max(...along_(k))) };
}
