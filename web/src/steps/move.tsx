// Move: by amounts along the axes of a space, or to coordinates there.
import type { SceneObject } from "../api/types";
import type { StepOf } from "../state/sentence";
import { changeSentence, useBenchParts } from "../state/store";
import { entry } from "../ui/lists";
import {
  along,
  column,
  dot,
  each,
  inverse,
  mapped,
  subtract,
  translation,
  type Vec3,
} from "../view3d/matrices";
import { alongWords, lengthWords, setWords } from "./amountWords";
import { type AxisKind, filled, type SomeOfThree, threeNumbers, typedFor } from "./axisKind";
import { PointChip, Word } from "./chips";
import { MoveHandles } from "./MoveHandles";
import { frameOf, parentOf, pointWorld } from "./setting";

const PER_METRE = { mm: 1000, cm: 100, m: 1, in: 1, ft: 1 } as const;

export const move: AxisKind<"move"> = {
  name: "Move",
  verb: "moves",
  key: "m",
  unit: (_, { length }) => ` ${length}`,
  sizeUnit: ({ length }) => ` ${length}`,
  letters: () => "XYZ",
  takesOne: () => false,
  takesAll: () => false,
  seenAcross: true,
  spaces: () => "all",
  pivotWord: () => null,
  begin: { pivot: "own" },
  invitation: ({ mode, lit }, names, several) =>
    mode === "to"
      ? `Type the position of ${names} along ${"XYZ"[lit]}.`
      : `Type how far ${names} ${several ? "go" : "goes"} along ${"XYZ"[lit]}, or drag a rail.`,
  make({ sentence, values, space }) {
    if (sentence.mode === "by") return { op: "move", space, by: filled(values, 0) };
    const to = values as SomeOfThree;
    return { op: "move", space, to, ...(sentence.point && { point: sentence.point }) };
  },
  words(step, conventions) {
    const length = lengthWords(conventions);
    return step.to ? `to ${setWords(step.to, "XYZ", length)}` : `by ${alongWords(step.by!, 0, length)}`;
  },
  hasDirections: () => true,
  now: (reading, space) => (space === "world" || space === "parent" ? reading[space].position : null),
  Extras: WithPoint,
  // Common practice, no source: the sizes that people nudge by.
  sizes: [1, 0.1, 0.01, 0.001],
  firstSize: 0.1,
  perUnit: ({ length }) => PER_METRE[length],
  nudge: (size, way) => way * size,
  numbers: (step) =>
    step.by
      ? threeNumbers("by", step.by, (by) => ({ ...step, by, entry: "typed" }))
      : threeNumbers("to", step.to!, (to) => ({ ...step, to, entry: "typed" })),
  motion(step, setting, id) {
    const parent = parentOf(id, setting);
    const point = step.point ? pointWorld(step.point, setting) : entry(setting.poses, id).pivot_world;
    if (point === null) return null;
    const amounts = (here: Vec3): Vec3 => each((i) => step.by?.[i] ?? (step.to?.[i] ?? here[i]) - here[i]);
    if (step.space === "parent" && parent) {
      const world_from_parent = entry(setting.poses, parent).world_from_local;
      const columns = each((k) => column(world_from_parent, k));
      return translation(along(columns, amounts(mapped(inverse(world_from_parent), point))));
    }
    const frame = frameOf(step.space, setting, id);
    if (frame === null) return null;
    const here = each((i) => dot(frame.axes[i], subtract(point, frame.origin)));
    return translation(along(frame.axes, amounts(here)));
  },
  handlesFollow: true,
  Handles: MoveHandles,
};

/** The point of the chosen that comes to the coordinates: their pivot, or one that is picked. */
function WithPoint({ objects }: { objects: readonly SceneObject[] }) {
  const { sentence } = useBenchParts("sentence");
  if (sentence.mode === "by") return null;
  return (
    <>
      <Word>taken at</Word>
      <PointChip
        label="Its point"
        objects={objects}
        on={sentence.objects.at(-1)}
        value={sentence.point ?? undefined}
        onChange={(point) => changeSentence({ ...sentence, point })}
        none={{ text: "its pivot", take: () => changeSentence({ ...sentence, point: null }) }}
      />
    </>
  );
}

/** The step that sets an object's position in a space; `null` for a coordinate that stays. */
export function movedTo(id: string, space: "world" | "parent", to: SomeOfThree): StepOf<"move"> {
  return { op: "move", ...typedFor(id), space, to };
}
