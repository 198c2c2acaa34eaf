// The conventions of a scene that a file may leave open: which axis is up, handedness, unit.
import type { Exercise } from "../api/types";
import { Switches } from "../ui/chips";
import { LENGTHS } from "../ui/conventions";

export type Asked = Pick<Exercise["conventions"], "up" | "handedness" | "length">;
export type AskedName = keyof Asked;

const WORDS = {
  up: { y: "Y up", z: "Z up" },
  handedness: { right: "right-handed", left: "left-handed" },
  length: Object.fromEntries(LENGTHS.map((length) => [length, length])),
} as const;
const LABELS = { up: "Axis that is up", handedness: "Handedness", length: "Unit of length" } as const;
const NAMES = ["up", "handedness", "length"] as const;

/** The same in words, for what a file says itself. */
export function saidWords(value: Asked, names: readonly AskedName[]): string {
  const words = {
    up: WORDS.up[value.up],
    handedness: WORDS.handedness[value.handedness],
    length: value.length,
  };
  return names.map((name) => words[name]).join(", ");
}

type Props = {
  asked: readonly AskedName[];
  value: Asked;
  onChange: (value: Asked) => void;
};

export function ConventionChips({ asked, value, onChange }: Props) {
  return (
    <div className="flex flex-wrap gap-2">
      {NAMES.filter((name) => asked.includes(name)).map((name) => (
        <Switches
          key={name}
          label={LABELS[name]}
          value={value[name] as string}
          words={WORDS[name] as Record<string, string>}
          onChange={(next) => onChange({ ...value, [name]: next })}
        />
      ))}
    </div>
  );
}
