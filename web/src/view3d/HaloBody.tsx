// A tolerance drawn to scale: the block in which the object may lie, teal while it does, rust while it does not.
import { memo, useMemo } from "react";
import { BoxGeometry, Matrix4, Vector3 } from "three";
import type { Halo } from "../api/types";
import { useView } from "./context";
import { each } from "./matrices";
import { Placed } from "./Placed";
import { edgesOf } from "./solidGeometry";

const UNIT_BLOCK = new BoxGeometry(2, 2, 2);
const UNIT_EDGES = edgesOf(UNIT_BLOCK);

type Props = { halo: Halo; inside: boolean; lit: boolean };

export const HaloBody = memo(function HaloBody({ halo, inside, lit }: Props) {
  const { tokens } = useView();
  const matrix = useMemo(() => blockMatrix(halo), [halo]);
  const colour = inside ? tokens.pass : tokens.fail;
  return (
    <Placed matrix={matrix}>
      <mesh geometry={UNIT_BLOCK} renderOrder={1}>
        <meshBasicMaterial color={colour} transparent opacity={lit ? 0.28 : 0.1} depthWrite={false} />
      </mesh>
      <lineSegments geometry={UNIT_EDGES} renderOrder={1}>
        <lineBasicMaterial color={colour} transparent opacity={lit ? 0.9 : 0.2} />
      </lineSegments>
    </Placed>
  );
});

function blockMatrix(halo: Halo): Matrix4 {
  const [x, y, z] = each((k) => new Vector3(...halo.world_from_axes.slice(3 * k, 3 * k + 3)));
  const world_from_block = new Matrix4().makeBasis(x, y, z).scale(new Vector3(...halo.half_sizes));
  return world_from_block.setPosition(...halo.centre_world);
}
