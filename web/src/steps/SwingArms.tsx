// Swing as it is chosen: the two lines, an arm from the pivot along each, and the arc between with its angle.
import { useState } from "react";
import type { Pivot, Point } from "../api/types";
import { withAmount, withOnlyAxis } from "../state/sentence";
import { changeSentence, setBench, useBench } from "../state/store";
import { focusChip } from "../ui/focus";
import { short } from "../ui/numbers";
import { useView } from "../view3d/context";
import { Label } from "../view3d/Label";
import {
  AXIS_NAMES,
  type AxisIndex,
  add,
  along,
  cross,
  dot,
  length,
  scaled,
  subtract,
  turnColumns,
  unit,
  type Vec3,
} from "../view3d/matrices";
import { Stroke } from "../view3d/Stroke";
import { withKind } from "./axisSentence";
import type { DrawingProps } from "./kind";
import { frameOf, pivotWorld, pointWorld, radiansPer, type Setting, topmost } from "./setting";
import { spaceOf } from "./spaces";

const ARC_STEPS = 48;

/** The arms and the signed angle between them, about an axis through the pivot; `null` where a line is along it. */
export function armsOf(
  normal: Vec3,
  from: Vec3,
  to: Vec3,
): { from: Vec3; to: Vec3; angleRad: number } | null {
  const flat = (line: Vec3) => subtract(line, scaled(normal, dot(normal, line)));
  const [u, v] = [flat(from), flat(to)];
  if (length(u) < 1e-9 || length(v) < 1e-9) return null;
  const [a, b] = [unit(u), unit(v)];
  return { from: a, to: b, angleRad: Math.atan2(dot(normal, cross(a, b)), dot(a, b)) };
}

export function SwingArms({ values, context, setting }: DrawingProps<"swing">) {
  const { tokens, size } = useView();
  const directions = useBench((state) => state.directions);
  const lines = [lineOf(values.from, setting), lineOf(values.to, setting)];
  const ids = topmost(context.chosen, setting.objects);
  const primary = ids.at(-1);
  const axis = "xyz".indexOf(String(values.axis)) as AxisIndex;
  const space = values.space && frameOf(spaceOf(values.space as never, directions), setting, primary ?? "");
  const centre = primary === undefined ? null : pivotWorld(values.pivot ?? "own", setting, primary, ids);
  const shown = lines.flatMap((line) => (line ? [line] : []));
  const [first, second] = lines;
  const normal = space && axis >= 0 ? space.axes[axis] : null;
  const arms =
    normal && first && second
      ? armsOf(normal, subtract(first[1], first[0]), subtract(second[1], second[0]))
      : null;
  const reach = size * 0.2;
  const paint = { color: tokens.plum, onTop: true, renderOrder: 5 } as const;
  return (
    <>
      {shown.map((line, i) => (
        <Stroke
          key={i === 0 ? "from" : "to"}
          points={line}
          width={1.5}
          dash={[size * 0.012, size * 0.008]}
          {...paint}
        />
      ))}
      {arms && centre && normal && (
        <>
          {[arms.from, arms.to].map((arm, i) => (
            <Stroke
              key={i === 0 ? "from" : "to"}
              points={[centre, add(centre, scaled(arm, reach))]}
              width={i === 0 ? 2 : 3.5}
              {...paint}
            />
          ))}
          <Stroke
            points={arcOf(centre, normal, scaled(arms.from, reach * 0.7), arms.angleRad)}
            width={2}
            {...paint}
          />
          <Label
            live
            at={add(centre, along(turnColumns(normal, arms.angleRad / 2), scaled(arms.from, reach * 0.9)))}
          >
            <AngleField
              angle={arms.angleRad / radiansPer(setting.conventions)}
              unit={setting.conventions.angle === "deg" ? "°" : setting.conventions.angle}
              take={(text) => asRotate(text, axis, values)}
            />
          </Label>
        </>
      )}
    </>
  );
}

/** An angle that is typed says all that the two lines did: the sentence goes on as a rotate. */
function asRotate(text: string, axis: AxisIndex, { space, pivot }: DrawingProps<"swing">["values"]): void {
  const { sentence } = useBench.getState();
  const turn = {
    ...withKind(sentence, "rotate"),
    space: (space ?? "world") as never,
    pivot: (pivot ?? "own") as Pivot,
  };
  setBench({ more: null });
  changeSentence(withAmount(withOnlyAxis(turn, axis), axis, text));
  setTimeout(() => focusChip(`Amount along ${AXIS_NAMES[axis]}`));
}

function AngleField({
  angle,
  unit: word,
  take,
}: {
  angle: number;
  unit: string;
  take: (text: string) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  return (
    <span className="pointer-events-auto inline-flex items-center rounded-sm bg-ink px-1 font-mono text-sm text-paper">
      <input
        aria-label="Angle of the swing (changing it makes this a rotate step)"
        value={text ?? short(angle)}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => setText(null)}
        onKeyDown={(event) => {
          if (event.key === "Escape") setText(null);
          if (event.key === "Enter" && text !== null && text.trim() !== "") take(text);
        }}
        className="w-16 bg-transparent text-right outline-none focus:underline"
      />
      {word}
    </span>
  );
}

function lineOf(line: unknown, setting: Setting): [Vec3, Vec3] | null {
  const [first, second] = (line ?? []) as (Point | undefined)[];
  const ends = [first, second].map((point) => (point ? pointWorld(point, setting) : null));
  return ends[0] && ends[1] ? [ends[0], ends[1]] : null;
}

function arcOf(centre: Vec3, normal: Vec3, arm: Vec3, angleRad: number): Vec3[] {
  return Array.from({ length: ARC_STEPS + 1 }, (_, i) => {
    const turned = along(turnColumns(normal, (angleRad * i) / ARC_STEPS), arm);
    return add(centre, turned);
  });
}
