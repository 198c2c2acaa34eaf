// The marker: where new solids appear, and a pivot one can choose.
import { useView } from "./context";
import { Label } from "./Label";
import { length, type Vec3 } from "./matrices";
import { PixelSized } from "./PixelSized";

const HALF = 7; // pixels

/** Drawn where it was moved from the origin, or is meant. */
export function MarkerSign({ at, always }: { at: Vec3; always: boolean }) {
  const { tokens } = useView();
  if (!always && length(at) === 0) return null;
  return (
    <PixelSized at={at}>
      {() => (
        <>
          <mesh renderOrder={9}>
            <octahedronGeometry args={[HALF]} />
            <meshBasicMaterial color={tokens.ink} wireframe depthTest={false} transparent />
          </mesh>
          <Label shift="8px, 6px">
            <span className="rounded-sm bg-sheet/85 px-1 text-sm text-ink">marker</span>
          </Label>
        </>
      )}
    </PixelSized>
  );
}
