// The view in the middle of the workbench: the scene, with what the pointer is for just now.
import { memo, useCallback, useMemo, useRef } from "react";
import type { Exercise, SceneState, Step } from "../api/types";
import { setBench, useBench, useBenchParts, useSentenceParts } from "../state/store";
import type { Plumb } from "../steps/depth";
import { kindOf } from "../steps/registry";
import type { Setting } from "../steps/setting";
import { passingIds } from "../ui/checks";
import { listed } from "../ui/words";
import type { Directions } from "../view3d/camera";
import type { Choice, Shape } from "../view3d/context";
import { Footprints } from "../view3d/Footprints";
import { FramePicker, type Framer } from "../view3d/FramePicker";
import { MarkerSign } from "../view3d/MarkerSign";
import { SceneView } from "../view3d/SceneView";
import { ContactPicker } from "./ContactPicker";
import { MeasuredLine, PlumbLine } from "./DepthSigns";
import { useShownPoses } from "./ElevationStrip";
import { FrameOverlay } from "./FrameOverlay";
import { GhostBodies } from "./GhostBodies";
import { Handles } from "./Handles";
import { KindDrawing } from "./KindDrawing";
import { PointDots } from "./PointDots";

type Props = {
  exercise: Exercise;
  setting: Setting;
  shapes: ReadonlyMap<string, Shape>;
  gaps: SceneState["gaps"];
  plumb: Plumb | null;
  fixed: boolean;
  onChoose: (ids: readonly string[]) => void;
  onStep: (step: Step) => void;
};

/** The scene with its handles, dots and frame, drawn anew when it changes; fixed: where nothing can be moved. */
export const WorkbenchView = memo(function WorkbenchView({
  exercise,
  setting,
  shapes,
  gaps,
  plumb,
  fixed,
  onChoose,
  onStep,
}: Props) {
  const { fit, main, flat, shading, more, footprints } = useBenchParts(
    "fit",
    "main",
    "flat",
    "shading",
    "more",
    "footprints",
  );
  const { objects: chosen, pivot } = useSentenceParts("objects", "pivot");
  const pointer = useBench((view) => view.pointer.kind);
  const framer = useRef<Framer | null>(null);
  const poses = useShownPoses(setting);
  const passing = useMemo(() => passingIds(gaps), [gaps]);
  const lit = useMemo(
    () => new Set(exercise.halos.filter((halo) => chosen.includes(halo.object)).map((halo) => halo.check)),
    [exercise, chosen],
  );
  const items = setting.objects.filter((item) => chosen.includes(item.id));
  const choose = useCallback(
    (id: string | null, choice: Choice) => {
      const { sentence: now, pointer } = useBench.getState();
      if (pointer.kind === "picking") {
        if (id !== null && pointer.what !== "contact") setBench({ pointer: { ...pointer, on: id } }); // its dots instead
        return;
      }
      if (id === null) return onChoose([]);
      if (choice === "alone") return onChoose([id]);
      const others = now.objects.filter((other) => other !== id);
      onChoose(others.length < now.objects.length ? others : [...others, id]);
    },
    [onChoose],
  );
  const turned = useCallback((directions: Directions) => setBench({ directions }), []);
  const held = pointer === "choosing" || pointer === "dragging";
  const handles = !fixed && held && more === null && items.length > 0 && items.every((item) => !item.locked);
  return (
    <>
      <SceneView
        exercise={exercise}
        objects={setting.objects}
        poses={poses}
        shapes={shapes}
        chosen={chosen}
        onChoose={choose}
        passing={passing}
        lit={lit}
        fit={fit}
        main={main}
        flat={flat}
        shading={shading}
        onTurned={turned}
        label={`The scene: ${setting.objects.length} objects, ${items.length > 0 ? `${listed(items.map((item) => item.name))} selected` : "none selected"}`}
      >
        {handles && <Handles setting={setting} onStep={onStep} />}
        {!fixed && <KindDrawing setting={setting} />}
        {pointer === "picking" && <PointDots setting={setting} />}
        {pointer === "picking" && <ContactPicker setting={setting} />}
        <GhostBodies setting={setting} />
        {plumb && !(more && kindOf(more.op).Drawing) && <PlumbLine plumb={plumb} />}
        {footprints && <Footprints poses={poses} />}
        <MeasuredLine />
        <MarkerSign at={setting.marker} always={pivot === "marker"} />
        <FramePicker framer={framer} />
      </SceneView>
      {pointer === "framing" && <FrameOverlay framer={framer} />}
    </>
  );
});
