// Amounts of a step in words, for what Enter says that it does. Pure.

import { short } from "../ui/numbers";
import { listed } from "../ui/words";
import { AXIS_INDICES, AXIS_NAMES } from "../view3d/matrices";
import type { Conventions } from "./axisKind";

type Three = readonly (number | null)[];
type Words = (value: number) => string;

export function lengthWords({ length }: Conventions): Words {
  return (value) => `${short(value)} ${length}`;
}

export function angleWords({ angle }: Conventions): Words {
  return (value) => (angle === "deg" ? `${short(value)}°` : `${short(value)} ${angle}`);
}

/** "2 m along X and 3 m along Z": the axes whose amount does something; none: what stands for nothing. */
export function alongWords(values: Three, none: number, words: Words): string {
  const parts = AXIS_INDICES.flatMap((axis) => {
    const value = values[axis] ?? none;
    return value === none ? [] : [`${words(value)} along ${AXIS_NAMES[axis]}`];
  });
  return parts.length > 0 ? listed(parts) : words(none);
}

/** "X 2 m and Z 3 m": the axes that are set. */
export function setWords(values: Three, letters: string, words: Words): string {
  return listed(
    AXIS_INDICES.flatMap((axis) => {
      const value = values[axis] ?? null;
      return value === null ? [] : [`${letters[axis]} ${words(value)}`];
    }),
  );
}
