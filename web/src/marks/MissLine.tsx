// The gap of a lit check: a line from where the point was submitted to where it is wanted, with its length.
import { short } from "../ui/numbers";
import { useView } from "../view3d/context";
import { Label } from "../view3d/Label";
import { add, length, scaled, subtract, type Vec3 } from "../view3d/matrices";
import { Stroke } from "../view3d/Stroke";

const SHORTEST = 1e-6;

export function MissLine({ ends }: { ends: readonly [Vec3, Vec3] }) {
  const { tokens, exercise } = useView();
  const [from, to] = ends;
  const off = length(subtract(to, from));
  if (off < SHORTEST) return null;
  return (
    <>
      <Stroke points={ends} color={tokens.fail} width={2} renderOrder={12} onTop />
      <Label at={[...scaled(add(from, to), 0.5)] as [number, number, number]}>
        <span className="rounded-sm bg-ink px-1.5 py-0.5 font-mono text-sm whitespace-nowrap text-paper">
          {short(Number(off.toFixed(4)))} {exercise.conventions.length}
        </span>
      </Label>
    </>
  );
}
