// The numbers and chips of a step that can be edited in place in the step list. Pure.
import type { Step } from "../api/types";

/** One number of a step: what it is called, its value, and the step with another value in its place. */
export type StepNumber = { label: string; value: number; with: (value: number) => Step };

export function numbersOf(step: Step): StepNumber[] {
  switch (step.op) {
    case "move":
      if (step.by) return triple("by", step.by, (by) => ({ ...step, by, entry: "typed" }));
      return step.to ? triple("to", step.to, (to) => ({ ...step, to, entry: "typed" })) : [];
    case "rotate":
      if (step.to) return triple("to", step.to, (to) => ({ ...step, to, entry: "typed" }));
      return [{ label: "angle", value: step.angle!, with: (angle) => ({ ...step, angle, entry: "typed" }) }];
    case "scale":
      if (step.by) return triple("by", step.by, (by) => ({ ...step, by, entry: "typed" }));
      if (step.to) return triple("to", step.to, (to) => ({ ...step, to, entry: "typed" }));
      return [
        {
          label: "factor",
          value: step.keep_volume!.factor,
          with: (factor) => ({ ...step, keep_volume: { ...step.keep_volume!, factor }, entry: "typed" }),
        },
      ];
    default:
      return [];
  }
}

type Three<T> = [T, T, T];

function triple<T extends number | null>(
  word: string,
  values: Three<T> | readonly T[],
  made: (values: Three<T>) => Step,
): StepNumber[] {
  return values.flatMap((value, i) =>
    value === null
      ? []
      : [
          {
            label: `${word} ${"XYZ"[i]}`,
            value: value as number,
            with: (next) => made(values.map((old, j) => (i === j ? next : old)) as Three<T>),
          },
        ],
  );
}

export type StepWord = {
  label: "Space" | "Pivot";
  value: string;
  options: readonly string[];
  with: (word: string) => Step;
};

const SPACES = ["world", "parent", "local"];
const PIVOTS = ["own", "box", "selection", "origin", "marker"];

/** The chips of a step that are words. */
export function wordsOf(step: Step): StepWord[] {
  const words: StepWord[] = [];
  if ((step.op === "move" || (step.op === "rotate" && !step.to)) && typeof step.space === "string") {
    words.push({
      label: "Space",
      value: step.space,
      options: SPACES,
      with: (space) => ({ ...step, space }) as Step,
    });
  }
  if ((step.op === "scale" || (step.op === "rotate" && !step.to)) && typeof step.pivot === "string") {
    words.push({
      label: "Pivot",
      value: step.pivot,
      options: PIVOTS,
      with: (pivot) => ({ ...step, pivot }) as Step,
    });
  }
  return words;
}
