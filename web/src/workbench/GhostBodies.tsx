// What a step that is not done yet would do: plum outlines where things would be.
import { useMemo } from "react";
import { Matrix4 } from "three";
import type { Pose, SceneObject } from "../api/types";
import { useBench } from "../state/store";
import type { Setting } from "../steps/setting";
import { type Shape, useShapes, useView } from "../view3d/context";
import { objectsAfter } from "../view3d/objects";
import { Placed } from "../view3d/Placed";

export type GhostPart = { item: SceneObject; pose: Pose };

/** The solids that a step would move, change or make, where they would be. */
export function useGhostParts(setting: Setting): readonly GhostPart[] {
  const preview = useBench((state) => (state.quiet ? null : state.ghost));
  return useMemo(() => {
    if (!preview) return [];
    const objects = objectsAfter(setting.objects, preview);
    return Object.entries(preview.changed).flatMap(([id, pose]) => {
      const item = objects.find((object) => object.id === id);
      return item?.solid ? [{ item, pose }] : [];
    });
  }, [preview, setting]);
}

export function GhostBodies({ setting }: { setting: Setting }) {
  const parts = useGhostParts(setting);
  const shapes = useShapes(
    useMemo(() => parts.map(({ item }) => item), [parts]),
    setting.conventions.up,
  );
  return parts.map(({ item, pose }) => {
    const shape = shapes.get(item.id);
    return shape && <Body key={item.id} shape={shape} pose={pose} />;
  });
}

function Body({ shape, pose }: { shape: Shape; pose: Pose }) {
  const { tokens } = useView();
  const matrix = useMemo(() => new Matrix4().fromArray(pose.world_from_local), [pose]);
  return (
    <Placed matrix={matrix}>
      <mesh geometry={shape.faces} raycast={() => null}>
        <meshBasicMaterial color={tokens.plum} transparent opacity={0.12} depthWrite={false} />
      </mesh>
      <lineSegments geometry={shape.outline} renderOrder={3} raycast={() => null}>
        <lineBasicMaterial color={tokens.plum} />
      </lineSegments>
    </Placed>
  );
}
