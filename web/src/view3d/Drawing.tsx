// A flat drawing of the scene from one side: solids filled and edged, the target dashed, the gap as dimension lines.
import { memo, useId, useMemo } from "react";
import type { Exercise, Pose, Poses, SceneObject } from "../api/types";
import { fixed, placesFor } from "../ui/numbers";
import { type Bounds, boundsOf, cornersOf, reachesOut } from "./bounds";
import { type Shape, useShapes } from "./context";
import {
  drawn,
  type Flat,
  LOOKS,
  onPaper,
  pictureFromLocal,
  type Side,
  type Drawing as SolidDrawing,
} from "./elevations";
import { turned, type Vec3 } from "./matrices";

type Props = {
  side: Side;
  objects: readonly SceneObject[];
  poses: Poses;
  /** What is in sight: points in world that the drawing is fitted to. */
  around: readonly Vec3[];
  exercise: Exercise;
  chosen: readonly string[];
  shapes: ReadonlyMap<string, Shape>;
  /** The smallest tolerance, by which the gap is written. */
  tolerance: number;
  /** What a step that is not done yet would move or make, where it would be. */
  ghost?: readonly { item: SceneObject; pose: Pose }[];
  /** From the lowest of what is chosen to the ground below it, in world. */
  plumb?: { from: Vec3; to: Vec3; words: string } | null;
};

const WIDTH = 240;
const HEIGHT = 132;
const MARGIN = 12;

/** Drawn anew only when what it shows has changed. */
export const Drawing = memo(function Drawing(props: Props) {
  const { side, objects, poses, exercise, chosen, shapes } = props;
  const { target, picture_from_world } = exercise;
  const paper = useMemo(
    () => fitted(props.around, side, picture_from_world),
    [props.around, side, picture_from_world],
  );
  const parts = objects.flatMap((item) => {
    const shape = shapes.get(item.id);
    const pose = poses[item.id];
    if (!shape || !pose) return [];
    return [{ item, drawing: drawingOf(side, pose, shape, picture_from_world) }];
  });
  // What is fixed is the background: what can be worked on is never hidden by it.
  parts.sort(
    (a, b) => Number(b.item.locked) - Number(a.item.locked) || a.drawing.nearest - b.drawing.nearest,
  );
  const ghosts = useShapes(
    useMemo(() => props.ghost?.map(({ item }) => item) ?? [], [props.ghost]),
    exercise.conventions.up,
  );
  const targets = useShapes(exercise.target_objects, exercise.conventions.up);
  const primary = chosen.at(-1);
  const hatch = useId();
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="size-full" aria-hidden>
      <pattern id={hatch} width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d="M0 0V5" className="stroke-fail" strokeWidth={2} />
      </pattern>
      {parts.map(({ item, drawing }) => (
        <FlatSolid
          key={item.id}
          drawing={drawing}
          paper={paper}
          colour={item.colour}
          look={chosen.includes(item.id) ? "chosen" : "plain"}
        />
      ))}
      {parts.map(({ item, drawing }) => {
        const bounds = boundsOf(exercise, item);
        if (!bounds || !reachesOut(cornersOf([item], poses), bounds)) return null;
        const allowed = onPaperBounds(bounds, side, picture_from_world, paper);
        return <Outside key={item.id} drawing={drawing} paper={paper} allowed={allowed} hatch={hatch} />;
      })}
      {Object.entries(target).map(([id, pose]) => {
        const shape = targets.get(id);
        if (!shape) return null;
        return (
          <FlatSolid
            key={id}
            drawing={drawingOf(side, pose, shape, picture_from_world)}
            paper={paper}
            colour="none"
            look="target"
          />
        );
      })}
      {props.ghost?.map(({ item, pose }) => {
        const shape = ghosts.get(item.id);
        return (
          shape && (
            <FlatSolid
              key={item.id}
              drawing={drawingOf(side, pose, shape, picture_from_world)}
              paper={paper}
              colour="none"
              look="ghost"
            />
          )
        );
      })}
      {props.plumb && side !== "free" && side !== "top" && (
        <PlumbOnPaper plumb={props.plumb} paper={paper} side={side} picture_from_world={picture_from_world} />
      )}
      {exercise.gaps_shown && primary && target[primary] && poses[primary] && side !== "free" && (
        <Gap
          from={poses[primary]}
          to={target[primary]}
          paper={paper}
          side={side}
          picture_from_world={picture_from_world}
          tolerance={props.tolerance}
        />
      )}
    </svg>
  );
});

type Paper = { scale: number; x: number; y: number };

function put(paper: Paper, [x, y]: Flat): Flat {
  return [paper.x + x * paper.scale, paper.y + y * paper.scale];
}

/** The scale and shift that bring all points onto the paper. */
function fitted(around: readonly Vec3[], side: Side, picture_from_world: readonly number[]): Paper {
  const flat = around.map((point) => onPaper(LOOKS[side], turned(picture_from_world, point)));
  if (flat.length === 0) return { scale: 1, x: WIDTH / 2, y: HEIGHT / 2 };
  const [xs, ys] = [flat.map(([x]) => x), flat.map(([, y]) => y)];
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min(
    (WIDTH - 2 * MARGIN) / Math.max(right - left, 1e-9),
    (HEIGHT - 2 * MARGIN) / Math.max(bottom - top, 1e-9),
  );
  return { scale, x: WIDTH / 2 - ((left + right) / 2) * scale, y: HEIGHT / 2 - ((top + bottom) / 2) * scale };
}

/** Drawings by pose and side: a pose never changes, so what stands still is drawn once. */
const DRAWINGS = new WeakMap<
  Pose,
  Map<string, { shape: Shape; picture: readonly number[]; drawing: SolidDrawing }>
>();

function drawingOf(side: Side, pose: Pose, shape: Shape, picture: readonly number[]): SolidDrawing {
  const sides = DRAWINGS.get(pose) ?? new Map();
  DRAWINGS.set(pose, sides);
  const known = sides.get(side);
  if (known?.shape === shape && known.picture === picture) return known.drawing;
  const drawing = drawn(LOOKS[side], pictureFromLocal(picture, pose.world_from_local), shape.points);
  sides.set(side, { shape, picture, drawing });
  return drawing;
}

type SolidProps = {
  drawing: SolidDrawing;
  paper: Paper;
  colour: string;
  look: "plain" | "chosen" | "target" | "ghost";
};

const STROKES = {
  plain: "stroke-scene-edge",
  chosen: "stroke-plum",
  target: "stroke-ink",
  ghost: "stroke-plum",
};

const FlatSolid = memo(function FlatSolid({ drawing, paper, colour, look }: SolidProps) {
  const { outline, lines } = drawing;
  const at = (point: Flat) =>
    put(paper, point)
      .map((value) => value.toFixed(1))
      .join(" ");
  return (
    <g className={STROKES[look]} strokeWidth={look === "plain" ? 0.5 : 1.1} strokeLinejoin="round">
      {(look === "plain" || look === "chosen") && (
        <path d={`M${outline.map(at).join("L")}Z`} fill={colour} fillOpacity={0.85} />
      )}
      <path
        d={lines.map(([a, b]) => `M${at(a)}L${at(b)}`).join("")}
        fill="none"
        strokeOpacity={look === "plain" ? 0.5 : 1}
        strokeDasharray={look === "target" ? "3 2" : undefined}
      />
    </g>
  );
});

type OutsideProps = {
  drawing: SolidDrawing;
  paper: Paper;
  allowed: readonly [Flat, Flat];
  hatch: string;
};

/** A solid's outline hatched where it lies outside of what is allowed. */
function Outside({ drawing, paper, allowed, hatch }: OutsideProps) {
  const clip = useId();
  const [[left, top], [right, foot]] = allowed;
  return (
    <g data-outside>
      <clipPath id={clip}>
        <path clipRule="evenodd" d={`M0 0H${WIDTH}V${HEIGHT}H0ZM${left} ${top}H${right}V${foot}H${left}Z`} />
      </clipPath>
      <path
        d={`M${drawing.outline.map((point) => put(paper, point).join(" ")).join("L")}Z`}
        fill={`url(#${hatch})`}
        clipPath={`url(#${clip})`}
      />
    </g>
  );
}

/** What is allowed as a rectangle on paper: its left and upper, and its right and lower corner, kept on the sheet. */
function onPaperBounds(
  bounds: Bounds,
  side: Side,
  picture_from_world: readonly number[],
  paper: Paper,
): readonly [Flat, Flat] {
  const placed = (corner: Vec3) => put(paper, onPaper(LOOKS[side], turned(picture_from_world, corner)));
  const inside = (value: number) => Math.max(-1, Math.min(value, WIDTH + 1));
  const [a, b] = [placed(bounds.least), placed(bounds.most)];
  return [
    [inside(Math.min(a[0], b[0])), inside(Math.min(a[1], b[1]))],
    [inside(Math.max(a[0], b[0])), inside(Math.max(a[1], b[1]))],
  ];
}

type PlumbProps = Pick<GapProps, "paper" | "side" | "picture_from_world"> & {
  plumb: NonNullable<Props["plumb"]>;
};

/** The plumb line, and the height beside it where there is one to be seen. */
function PlumbOnPaper({ plumb, paper, side, picture_from_world }: PlumbProps) {
  const [[x, top], [, foot]] = [plumb.from, plumb.to].map((point) =>
    put(paper, onPaper(LOOKS[side], turned(picture_from_world, point))),
  ) as [Flat, Flat];
  if (Math.abs(foot - top) < 1) return null;
  return (
    <g className="fill-ink stroke-ink-soft font-mono" strokeWidth={0.8} fontSize={9} data-plumb>
      <path d={`M${x} ${top}V${foot}M${x - 4} ${foot}h8`} fill="none" strokeDasharray="2 1.5" />
      <Words x={x - 18 < 14 ? x + 18 : x - 18} y={(top + foot) / 2 + 3} text={plumb.words} />
    </g>
  );
}

type GapProps = {
  from: Pose;
  to: Pose;
  paper: Paper;
  side: Side;
  picture_from_world: readonly number[];
  tolerance: number;
};

/** How far the pivot is from where it should be, across and up, as dimension lines. */
function Gap({ from, to, paper, side, picture_from_world, tolerance }: GapProps) {
  const flat = (pose: Pose) => onPaper(LOOKS[side], turned(picture_from_world, pose.pivot_world));
  const [a, b] = [flat(from), flat(to)];
  const [across, up] = [Math.abs(b[0] - a[0]), Math.abs(b[1] - a[1])];
  const places = placesFor(tolerance);
  const [[x1, y1], [x2, y2]] = [put(paper, a), put(paper, b)];
  const shown = (value: number) => value > tolerance;
  const middle = (value: number) => Math.max(14, Math.min(value, WIDTH - 14));
  return (
    <g className="fill-ink stroke-ink font-mono" strokeWidth={0.8} fontSize={9}>
      {shown(across) && (
        <>
          <path d={`M${x1} ${y1}H${x2}M${x1} ${y1 - 3}v6M${x2} ${y1 - 3}v6`} fill="none" />
          <Words x={middle((x1 + x2) / 2)} y={y1 - 4 < 9 ? y1 + 11 : y1 - 4} text={fixed(across, places)} />
        </>
      )}
      {shown(up) && (
        <>
          <path d={`M${x2} ${y1}V${y2}M${x2 - 3} ${y1}h6M${x2 - 3} ${y2}h6`} fill="none" />
          <Words x={middle(x2 + 16)} y={(y1 + y2) / 2 + 3} text={fixed(up, places)} />
        </>
      )}
    </g>
  );
}

/** Numbers over a drawing, on a strip of paper so that they can be read. */
function Words({ x, y, text }: { x: number; y: number; text: string }) {
  return (
    <text
      x={x}
      y={y}
      textAnchor="middle"
      className="fill-ink stroke-sheet"
      strokeWidth={3}
      paintOrder="stroke"
    >
      {text}
    </text>
  );
}
