// Scale: by factors along the axes of a space, to sizes of its own, or with its volume kept.
import type { StepOf } from "../state/sentence";
import { changeSentence, useBenchParts } from "../state/store";
import { entry } from "../ui/lists";
import { short } from "../ui/numbers";
import { Tick } from "../ui/parts";
import {
  about,
  along,
  column,
  dot,
  each,
  inverse,
  length,
  mapped,
  product,
  scaled,
  type Vec3,
  WORLD_AXES,
} from "../view3d/matrices";
import { alongWords, lengthWords, setWords } from "./amountWords";
import {
  type AxisKind,
  axisLetter,
  filled,
  type SomeOfThree,
  type Three,
  threeNumbers,
  typedFor,
} from "./axisKind";
import { ScaleHandles } from "./ScaleHandles";
import { frameOf, itemOf, pivotWorld, type Setting } from "./setting";

export const scale: AxisKind<"scale"> = {
  name: "Scale",
  verb: "scales",
  key: "s",
  unit: (mode, { length }) => (mode === "by" ? "×" : ` ${length}`),
  sizeUnit: () => "",
  letters: () => "XYZ",
  takesOne: ({ mode, uniform, keepVolume }) => uniform || (keepVolume && mode === "by"),
  takesAll: () => false,
  seenAcross: true,
  spaces: (mode) => (mode === "by" ? "all" : "none"),
  pivotWord: () => "holding",
  // Own sizes are what is scaled: along other axes a turned solid would be skewed.
  begin: { space: "local" },
  invitation: ({ mode, lit, uniform }, names, several) =>
    mode === "by"
      ? `Type the factor for ${uniform ? "all axes" : "XYZ"[lit]} of ${names}, or drag a square bead.`
      : `Type the size that ${names} ${several ? "are" : "is"} to have along ${"XYZ"[lit]}.`,
  make({ sentence: { mode, lit, pivot, uniform, keepVolume }, values, space }) {
    if (values.includes(0)) return "A factor or size of 0 would flatten the object. Type another number.";
    if (mode === "to") {
      const to = values as SomeOfThree;
      return { op: "scale", space: "local", to, uniform, pivot };
    }
    const one = values[lit] ?? 1;
    const body = { op: "scale", space, uniform: false, pivot } as const;
    if (keepVolume) return { ...body, keep_volume: { axis: axisLetter(lit), factor: one } };
    return { ...body, by: uniform ? [one, one, one] : filled(values, 1) };
  },
  words(step, conventions) {
    if (step.to)
      return `to ${setWords(step.to, "XYZ", lengthWords(conventions))}${step.uniform ? ", uniformly," : ""}`;
    if (step.keep_volume)
      return `by ${short(step.keep_volume.factor)} along ${step.keep_volume.axis.toUpperCase()}, keeping its volume,`;
    return isEven(step) ? `by ${short(step.by![0])} on all axes` : `by ${alongWords(step.by!, 1, short)}`;
  },
  hasDirections: (step) => !step.to && !isEven(step),
  now: (reading) => reading.size,
  Extras: UniformAndVolume,
  // Common practice, no source: the factors that people grow things by.
  sizes: [1, 0.1, 0.01, 0.001],
  firstSize: 0.1,
  perUnit: () => 1,
  nudge: (size, way) => (way > 0 ? 1 + size : 1 / (1 + size)),
  numbers(step) {
    if (step.by) return threeNumbers("by", step.by, (by) => ({ ...step, by, entry: "typed" }));
    if (step.to) return threeNumbers("to", step.to, (to) => ({ ...step, to, entry: "typed" }));
    const kept = step.keep_volume!;
    const withFactor = (factor: number) =>
      ({ ...step, keep_volume: { ...kept, factor }, entry: "typed" }) as const;
    return [{ label: "factor", value: kept.factor, with: withFactor }];
  },
  motion(step, setting, id, ids) {
    const centre = pivotWorld(step.pivot, setting, id, ids);
    const factors = factorsOf(step, setting, id);
    if (centre === null || factors === null || factors.includes(0)) return null;
    const { world_from_local } = entry(setting.poses, id);
    if (step.space === "local") {
      const own = each((k) => scaled(WORLD_AXES[k], factors[k]));
      const inside = about(own, mapped(inverse(world_from_local), centre));
      return product(product(world_from_local, inside), inverse(world_from_local));
    }
    const frame = frameOf(step.space, setting, id);
    if (frame === null) return null;
    const scaledAlong = (axis: Vec3) =>
      along(
        frame.axes,
        each((k) => dot(frame.axes[k], axis) * factors[k]),
      );
    return about(
      each((k) => scaledAlong(WORLD_AXES[k])),
      centre,
    );
  },
  handlesFollow: false,
  Handles: ScaleHandles,
};

function isEven({ by }: StepOf<"scale">): boolean {
  return by != null && new Set(by).size === 1;
}

function factorsOf(step: StepOf<"scale">, setting: Setting, id: string): Vec3 | null {
  if (step.by) return step.by;
  if (step.keep_volume) {
    const { axis, factor } = step.keep_volume;
    return each((k) => ("xyz"[k] === axis ? factor : 1 / Math.sqrt(factor)));
  }
  const sizes = ownSizes(setting, id);
  if (!sizes) return null;
  const factors = each((k) => {
    const size = step.to?.[k] ?? null;
    return size === null ? null : size / sizes[k];
  });
  if (factors.some((factor) => factor !== null && !Number.isFinite(factor))) return null;
  const one = factors.find((factor) => factor !== null) ?? 1;
  return each((k) => (step.uniform ? one : (factors[k] ?? 1)));
}

/** Sizes along an object's own axes, in scene lengths. */
function ownSizes(setting: Setting, id: string): Vec3 | null {
  const box = itemOf(id, setting)?.local_box;
  if (!box) return null;
  const { world_from_local } = entry(setting.poses, id);
  return each((k) => (box.most[k] - box.least[k]) * length(column(world_from_local, k)));
}

function UniformAndVolume() {
  const { sentence } = useBenchParts("sentence");
  return (
    <span className="flex items-center gap-3">
      <Tick
        id="uniform"
        text="uniform"
        on={sentence.uniform}
        onChange={(uniform) => changeSentence({ ...sentence, uniform, keepVolume: false })}
      />
      {sentence.mode === "by" && (
        <Tick
          id="keep-volume"
          text="keep volume"
          on={sentence.keepVolume}
          onChange={(keepVolume) => changeSentence({ ...sentence, keepVolume, uniform: false })}
        />
      )}
    </span>
  );
}

const OWN = { space: "local", uniform: false, pivot: "own" } as const;

/** The step that scales an object along its own axes. */
export function scaledBy(id: string, by: Three): StepOf<"scale"> {
  return { op: "scale", ...typedFor(id), ...OWN, by };
}

/** The step that sets an object's own sizes; `null` for one that stays. */
export function sizedTo(id: string, to: SomeOfThree): StepOf<"scale"> {
  return { op: "scale", ...typedFor(id), ...OWN, to };
}
