// Join by hand: from a dot of the chosen object dragged to a dot of anything; a dashed line and three numbers say the way.
import { useThree } from "@react-three/fiber";
import { type PointerEvent, useRef, useState } from "react";
import { type Group, Vector3 } from "three";
import type { SceneObject } from "../api/types";
import { entry } from "../ui/lists";
import { measured } from "../ui/numbers";
import { useView } from "../view3d/context";
import { Dot } from "../view3d/Dot";
import { Label } from "../view3d/Label";
import { add, each, mapped, scaled, subtract, type Vec3 } from "../view3d/matrices";
import { Stroke } from "../view3d/Stroke";
import { PLACES, placeLocal, placeWords } from "./features";
import type { DrawingProps } from "./kind";
import type { ObjectPoint } from "./PointFields";
import { descendants, pointWorld, type Setting } from "./setting";

const NEAR_PIXELS = 22; // so near to a dot, a drag ends at it

type Drag = { from: ObjectPoint; to: ObjectPoint | null; pointer: Vec3; on: string };

export function JoinLine({ values, change, context, setting }: DrawingProps<"join">) {
  const group = useRef<Group>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  const nearest = useNearest(setting, context.chosen, group);
  const own = context.chosen.at(-1);
  const { point, to } = values;
  const begin = (at: string) => (event: PointerEvent<HTMLButtonElement>) => {
    if (own === undefined || event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const from = { object: own, at };
    const moved = (move: globalThis.PointerEvent) => {
      const found = nearest(move.clientX, move.clientY, pointWorld(from, setting)!);
      if (found) setDrag({ from, ...found });
      return found;
    };
    const target = event.currentTarget;
    target.onpointermove = moved;
    target.onpointerup = (up) => {
      const found = moved(up);
      target.onpointermove = target.onpointerup = target.onpointercancel = null;
      setDrag(null);
      change(found?.to ? { point: from, to: found.to } : { point: from });
    };
    target.onpointercancel = () => {
      target.onpointermove = target.onpointerup = target.onpointercancel = null;
      setDrag(null);
    };
  };
  const start = drag ? pointWorld(drag.from, setting) : point ? pointWorld(point, setting) : null;
  const end = drag
    ? drag.to
      ? pointWorld(drag.to, setting)
      : drag.pointer
    : to
      ? pointWorld(to, setting)
      : null;
  const place = (id: string | undefined) => setting.objects.find((item) => item.id === id);
  return (
    <group ref={group}>
      <Dots item={place(own)} setting={setting} lit={drag?.from.at ?? atOn(point, own)} onDown={begin} />
      {drag && <Dots item={place(drag.on)} setting={setting} lit={drag.to?.at} />}
      {start && end && <Way from={start} to={end} unit={context.conventions.length} />}
    </group>
  );
}

function atOn(point: DrawingProps<"join">["values"]["point"], id: string | undefined): string | undefined {
  return point && "object" in point && point.object === id ? point.at : undefined;
}

type DotsProps = {
  item: SceneObject | undefined;
  setting: Setting;
  lit: string | undefined;
  onDown?: (at: string) => (event: PointerEvent<HTMLButtonElement>) => void;
};

function Dots({ item, setting, lit, onDown }: DotsProps) {
  if (!item?.local_box) return null;
  return PLACES.map((at) => (
    <Dot
      key={at}
      at={mapped(entry(setting.poses, item.id).world_from_local, placeLocal(item, at)!)}
      name={`${onDown ? "Join from" : "Join to"} ${placeWords(at)} of ${item.name}`}
      words={placeWords(at)}
      big={at.length === 6}
      lit={lit === at}
      {...(onDown && { onPointerDown: onDown(at) })}
    />
  ));
}

function Way({ from, to, unit }: { from: Vec3; to: Vec3; unit: string }) {
  const { tokens, size } = useView();
  const way = subtract(to, from);
  return (
    <>
      <Stroke
        points={[from, to]}
        color={tokens.plum}
        width={2}
        dash={[size * 0.015, size * 0.01]}
        onTop
        renderOrder={5}
      />
      <Label at={scaled(add(from, to), 0.5)} shift="-50%, -140%">
        <output
          data-way
          className="rounded-sm bg-ink px-1.5 py-0.5 font-mono text-sm whitespace-nowrap text-paper"
        >
          {each((i) => `${"XYZ"[i]} ${measured(way[i])}`).join("  ")} {unit}
        </output>
      </Label>
    </>
  );
}

/** The dot of another object under the pointer, if one is near; whose dots to show; and where the pointer is, as deep as the start. */
function useNearest(setting: Setting, chosen: readonly string[], group: { current: Group | null }) {
  const { camera, gl } = useThree();
  return (x: number, y: number, from: Vec3): Omit<Drag, "from"> | null => {
    if (!group.current) return null;
    const picture_from_world = group.current.matrixWorld;
    const area = gl.domElement.getBoundingClientRect();
    const seen = (point: Vec3) => new Vector3(...point).applyMatrix4(picture_from_world).project(camera);
    const away = (point: Vec3) => {
      const { x: right, y: up } = seen(point);
      const [left, top] = [
        area.left + ((right + 1) / 2) * area.width,
        area.top + ((1 - up) / 2) * area.height,
      ];
      return Math.hypot(left - x, top - y);
    };
    const own = new Set(chosen.flatMap((id) => [id, ...descendants(id, setting.objects)]));
    const dots = setting.objects
      .filter((item) => item.local_box && !own.has(item.id))
      .flatMap((item) => PLACES.map((at) => ({ object: item.id, at })))
      .map((dot) => ({ dot, pixels: away(pointWorld(dot, setting)!) }))
      .sort((a, b) => a.pixels - b.pixels);
    const best = dots[0];
    if (!best) return null;
    const pointer = new Vector3(
      ((x - area.left) / area.width) * 2 - 1,
      1 - ((y - area.top) / area.height) * 2,
      seen(from).z,
    );
    pointer.unproject(camera).applyMatrix4(picture_from_world.clone().invert());
    return {
      to: best.pixels <= NEAR_PIXELS ? best.dot : null,
      on: best.dot.object,
      pointer: [pointer.x, pointer.y, pointer.z],
    };
  };
}
