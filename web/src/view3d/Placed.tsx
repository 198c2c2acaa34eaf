// A group at a given matrix. three keeps a hand-set matrix to itself until it is told that it changed.
import { type ThreeElements, useThree } from "@react-three/fiber";
import { useLayoutEffect, useRef } from "react";
import type { Group, Matrix4 } from "three";

export function Placed({ matrix, ...group }: { matrix: Matrix4 } & ThreeElements["group"]) {
  const placed = useRef<Group>(null);
  const invalidate = useThree((state) => state.invalidate);
  useLayoutEffect(() => {
    if (!placed.current) return;
    placed.current.matrix.copy(matrix);
    placed.current.matrixWorldNeedsUpdate = true;
    placed.current.updateWorldMatrix(true, true, true);
    invalidate();
  }, [matrix, invalidate]);
  return <group ref={placed} matrixAutoUpdate={false} {...group} />;
}
