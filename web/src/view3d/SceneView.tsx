// The 3D view of an exercise: ground, solids, the target's outline, halos; handles come in as children.
import { Canvas } from "@react-three/fiber";
import { type ReactNode, useMemo, useRef } from "react";
import { NoToneMapping } from "three";
import type { Exercise, Poses, SceneObject } from "../api/types";
import { entry } from "../ui/lists";
import { useTokens } from "../ui/theme";
import { AxisSign, FollowCamera } from "./AxisSign";
import { type Directions, type Fit, MainCamera, type Stand, YARD_METRES } from "./camera";
import { type Choice, type Shape, useShapes, ViewContext } from "./context";
import type { Side } from "./elevations";
import { Ground } from "./Ground";
import { HaloBody } from "./HaloBody";
import { Hatching } from "./Hatching";
import { LabelSpread } from "./LabelSpread";
import { length, subtract, type Vec3 } from "./matrices";
import { Placed } from "./Placed";
import { pictureMatrix } from "./picture";
import { Brackets, Outline, type Shading, SolidBody } from "./Solids";
import { METRES } from "./units";

type Props = {
  exercise: Exercise;
  objects: readonly SceneObject[];
  poses: Poses;
  shapes: ReadonlyMap<string, Shape>;
  chosen: readonly string[];
  onChoose?: (id: string | null, choice: Choice) => void;
  /** Checks that pass as things stand: their halos are teal. */
  passing: ReadonlySet<string>;
  /** Checks whose halos are lit; none of them is where the set is empty. */
  lit: ReadonlySet<string>;
  fit: Fit;
  main?: Side;
  flat?: boolean;
  shading?: Shading;
  /** Whether dragging does not turn the view. */
  still?: boolean;
  onTurned?: (directions: Directions) => void;
  /** Where to look from; each new one moves the camera. */
  stand?: Stand | null;
  onStand?: (stand: Stand) => void;
  label: string;
  children?: ReactNode;
};

export function SceneView(props: Props) {
  const { exercise, objects, poses, shapes, chosen, onChoose, passing, lit, label, children } = props;
  const { main = "free", flat = false, shading = "shaded" } = props;
  const tokens = useTokens();
  const size = useMemo(() => sceneSize(exercise), [exercise]);
  const targets = useShapes(exercise.target_objects, exercise.conventions.up);
  const labels = useRef<HTMLDivElement>(null);
  const sign = useRef<SVGSVGElement>(null);
  const view = useMemo(
    () => ({ exercise, objects, tokens, size, shapes, targets, labels }),
    [exercise, objects, tokens, size, shapes, targets],
  );
  const picture_from_world = useMemo(() => pictureMatrix(exercise), [exercise]);
  const light = Number(tokens["scene-light"]);
  return (
    <div className="relative size-full overflow-hidden bg-paper">
      <Canvas
        role="img"
        aria-label={label}
        frameloop="demand"
        flat
        dpr={[0.5, 2]}
        gl={{ antialias: true, toneMapping: NoToneMapping, localClippingEnabled: true }}
        // Asking how a shader was compiled waits for it, and nothing would read the answer.
        onCreated={({ gl }) => {
          gl.debug.checkShaderErrors = import.meta.env.DEV;
        }}
        onPointerMissed={(event) => event.type === "click" && onChoose?.(null, "alone")}
      >
        <ViewContext value={view}>
          <ambientLight intensity={light * 0.55} />
          <directionalLight position={[2, 5, 3]} intensity={light * 0.75} />
          <Placed matrix={picture_from_world}>
            <Ground />
            {objects.map((object) =>
              poses[object.id] ? (
                <SolidBody
                  key={object.id}
                  item={object}
                  pose={entry(poses, object.id)}
                  shading={shading}
                  onChoose={onChoose}
                />
              ) : null,
            )}
            <Hatching objects={objects} poses={poses} />
            {Object.entries(exercise.target).map(([id, pose]) => (
              <Outline key={id} shape={targets.get(id)} pose={pose} />
            ))}
            {exercise.halos.map((halo) => (
              <HaloBody
                key={`${halo.check} ${halo.object}`}
                halo={halo}
                inside={passing.has(halo.check)}
                lit={lit.has(halo.check)}
              />
            ))}
            {objects.map((object) =>
              chosen.includes(object.id) && poses[object.id] ? (
                <Brackets key={object.id} item={object} pose={entry(poses, object.id)} />
              ) : null,
            )}
            {children}
          </Placed>
          <MainCamera
            poses={poses}
            chosen={chosen}
            fit={props.fit}
            main={main}
            flat={flat}
            still={props.still ?? false}
            onTurned={props.onTurned}
            stand={props.stand}
            onStand={props.onStand}
          />
          <FollowCamera sign={sign} />
          <LabelSpread labels={labels} />
        </ViewContext>
      </Canvas>
      <div ref={labels} className="pointer-events-none absolute inset-0 overflow-hidden" />
      <AxisSign sign={sign} />
    </div>
  );
}

/** About how far the exercise reaches, in its own unit: the farthest that two pivots lie apart. */
function sceneSize(exercise: Exercise): number {
  const places = Object.values(exercise.start).map((pose): Vec3 => pose.pivot_world);
  const distances = places.flatMap((a) => places.map((b) => length(subtract(a, b))));
  const boxes = exercise.objects.flatMap(({ local_box }) =>
    local_box ? [length(subtract(local_box.most, local_box.least))] : [],
  );
  const size = Math.max(0, ...distances, ...boxes);
  return size > 0 ? size : YARD_METRES / METRES[exercise.conventions.length];
}
