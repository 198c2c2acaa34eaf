// Signs of depth: a plumb line from the chosen solid to the ground with its footprint there, and the two points of a measure.
import { Line } from "@react-three/drei";
import type { Box, SceneState } from "../api/types";
import { useBench } from "../state/store";
import { measured } from "../ui/numbers";
import { useView } from "../view3d/context";
import { Label } from "../view3d/Label";
import { each, type Vec3 } from "../view3d/matrices";

const RESTING = 0.001; // of its size: what stands less above the ground is told as resting on it

type Three = [number, number, number];

/** The height of a box over the ground, in words; resting where there is as good as nothing between. */
export function heightWords(box: Box, up: number, unit: string): string {
  const height = box.least[up]!;
  const size = Math.max(...each((i) => box.most[i] - box.least[i]));
  return Math.abs(height) < RESTING * size ? "on the ground" : `${measured(height)} ${unit}`;
}

export function PlumbLine({ readings }: { readings: SceneState["readings"] }) {
  const { tokens, exercise } = useView();
  const chosen = useBench((state) => state.sentence.objects.at(-1));
  const box = chosen === undefined ? null : (readings[chosen]?.world_box ?? null);
  if (!box) return null;
  const up = exercise.conventions.up === "y" ? 1 : 2;
  const [a, b] = [0, 1, 2].filter((axis) => axis !== up) as [number, number];
  const at = (x: number, y: number, height: number): Three => {
    const point: Three = [0, 0, 0];
    point[a] = x;
    point[b] = y;
    point[up] = height;
    return point;
  };
  const [x, y] = [(box.least[a]! + box.most[a]!) / 2, (box.least[b]! + box.most[b]!) / 2];
  const corners = [
    at(box.least[a]!, box.least[b]!, 0),
    at(box.most[a]!, box.least[b]!, 0),
    at(box.most[a]!, box.most[b]!, 0),
    at(box.least[a]!, box.most[b]!, 0),
    at(box.least[a]!, box.least[b]!, 0),
  ];
  return (
    <>
      <Line points={corners} color={tokens["ink-soft"]} lineWidth={1} transparent opacity={0.7} />
      <Line
        points={[at(x, y, box.least[up]!), at(x, y, 0)]}
        color={tokens["ink-soft"]}
        lineWidth={1.2}
        dashed
        dashSize={0.06}
        gapSize={0.04}
      />
      <Label at={at(x, y, 0)} shift="-50%, 12px">
        <span
          data-height
          className="rounded-sm bg-sheet/85 px-1 font-mono text-sm whitespace-nowrap text-ink-soft"
        >
          {heightWords(box, up, exercise.conventions.length)}
        </span>
      </Label>
    </>
  );
}

export function MeasuredLine() {
  const { tokens } = useView();
  const points = useBench((state) => state.measured);
  if (!points) return null;
  const [from, to] = points as readonly [Vec3, Vec3];
  return (
    <>
      <Line
        points={[[...from], [...to]]}
        color={tokens.plum}
        lineWidth={2}
        depthTest={false}
        renderOrder={5}
      />
      {[from, to].map((point, i) => (
        <Label key={i === 0 ? "from" : "to"} at={point} shift="-50%, -50%">
          <span className="block size-2 rounded-full border border-plum bg-sheet" />
        </Label>
      ))}
    </>
  );
}
