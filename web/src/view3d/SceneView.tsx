// The 3D view of an exercise: ground, solids, the target's outline, halos; handles come in as children.
import { Canvas } from "@react-three/fiber";
import { type ReactNode, useMemo, useRef } from "react";
import { NoToneMapping } from "three";
import type { Exercise, Poses } from "../api/types";
import { useTokens } from "../ui/theme";
import { FIELD_DEGREES, type Fit, FreeCamera } from "./camera";
import { useShapes, ViewContext } from "./context";
import { Ground } from "./Ground";
import { HaloBody } from "./HaloBody";
import { length, subtract, type Vec3 } from "./matrices";
import { Placed } from "./Placed";
import { pictureMatrix } from "./picture";
import { Brackets, Outline, SolidBody } from "./Solids";

type Props = {
  exercise: Exercise;
  poses: Poses;
  chosen: string | null;
  onChoose?: (id: string | null) => void;
  /** Checks that pass as things stand: their halos are teal. */
  passing: ReadonlySet<string>;
  /** Checks whose halos are lit; none of them is where the set is empty. */
  lit: ReadonlySet<string>;
  fit: Fit;
  label: string;
  children?: ReactNode;
};

export function SceneView({ exercise, poses, chosen, onChoose, passing, lit, fit, label, children }: Props) {
  const tokens = useTokens();
  const shapes = useShapes(exercise);
  const size = useMemo(() => sceneSize(exercise), [exercise]);
  const labels = useRef<HTMLDivElement>(null);
  const view = useMemo(() => ({ exercise, tokens, size, shapes, labels }), [exercise, tokens, size, shapes]);
  const picture_from_world = useMemo(() => pictureMatrix(exercise), [exercise]);
  const item = exercise.objects.find((object) => object.id === chosen);
  const light = Number(tokens["scene-light"]);
  return (
    <div role="img" aria-label={label} className="relative size-full overflow-hidden bg-paper">
      <Canvas
        frameloop="demand"
        flat
        dpr={[1, 2]}
        camera={{ fov: FIELD_DEGREES }}
        gl={{ antialias: true, toneMapping: NoToneMapping }}
        onPointerMissed={() => onChoose?.(null)}
      >
        <ViewContext value={view}>
          <ambientLight intensity={light * 0.55} />
          <directionalLight position={[2, 5, 3]} intensity={light * 0.75} />
          <Placed matrix={picture_from_world}>
            <Ground />
            {exercise.objects.map((object) => (
              <SolidBody key={object.id} item={object} pose={poses[object.id]!} onChoose={onChoose} />
            ))}
            {Object.entries(exercise.target).map(([id, pose]) => (
              <Outline key={id} id={id} pose={pose} />
            ))}
            {exercise.halos.map((halo) => (
              <HaloBody
                key={`${halo.check} ${halo.object}`}
                halo={halo}
                inside={passing.has(halo.check)}
                lit={lit.has(halo.check)}
              />
            ))}
            {item && <Brackets key={item.id} item={item} pose={poses[item.id]!} />}
            {children}
          </Placed>
          <FreeCamera poses={poses} chosen={chosen} fit={fit} />
        </ViewContext>
      </Canvas>
      <div ref={labels} className="pointer-events-none absolute inset-0 overflow-hidden" />
    </div>
  );
}

/** About how far the exercise reaches, in its own unit: the farthest that two pivots lie apart. */
function sceneSize(exercise: Exercise): number {
  const places = exercise.objects.map((object): Vec3 => object.start.pivot_world);
  const distances = places.flatMap((a) => places.map((b) => length(subtract(a, b))));
  return Math.max(...distances, 1e-6);
}
