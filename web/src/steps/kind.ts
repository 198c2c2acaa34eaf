// What a kind under More is on the screen: one file each beside this one, and nothing else knows a kind by its name.
import type { ReactNode } from "react";
import type { Exercise, SceneObject, Space } from "../api/types";
import type { Body, MoreOp, SpaceChoice, Values } from "../state/sentence";
import type { Setting } from "./setting";
import type { Ground } from "./standing";

/** The word view stands for where the camera looks until the step is made. */
export function asSpace(space: SpaceChoice): Space {
  return space as Space;
}

export type Context = {
  objects: readonly SceneObject[];
  chosen: readonly string[];
  conventions: Exercise["conventions"];
  /** What stands there when the step is made; where it is not told, the core finds the place. */
  ground?: Ground;
};

export type ChipsProps<O extends MoreOp> = {
  values: Values<O>;
  change: (part: Values<O>) => void;
  context: Context;
};

/** What a kind draws in the view while its sentence is made. */
export type DrawingProps<O extends MoreOp> = ChipsProps<O> & { setting: Setting };

export const GROUPS = ["Place", "Orient", "Make", "Group", "Points", "Name and colour"] as const;

export type Kind<O extends MoreOp> = {
  name: string;
  /** One line for the menu: what it is for. */
  purpose: string;
  group: (typeof GROUPS)[number];
  /** Its key, with Shift. */
  key: string;
  /** Whom it acts on: the chosen objects, one of them, or none. */
  acts: "chosen" | "one" | "none";
  begin: (context: Context) => Values<O>;
  /** Whether its key does it at once, with what was set last. */
  atOnce?: boolean;
  /** The step's own part once all is chosen, or what is missing, as a sentence. */
  make: (values: Values<O>, context: Context) => Body<O> | string;
  Chips: (props: ChipsProps<O>) => ReactNode;
  Drawing?: (props: DrawingProps<O>) => ReactNode;
};

/** An id that nothing has yet, made of a name. */
export function freeId(name: string, objects: readonly SceneObject[], also: readonly string[] = []): string {
  const taken = new Set([...objects.map((item) => item.id), ...also]);
  const stem =
    name
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, "-")
      .replace(/^-|-$/g, "") || "object";
  for (let n = 1; ; n++) {
    const id = n === 1 ? stem : `${stem}-${n}`;
    if (!taken.has(id)) return id;
  }
}

/** Another object than the chosen ones, to begin with: one that can be moved rather than the ground. */
export function otherThan(chosen: readonly string[], objects: readonly SceneObject[]): string | undefined {
  const others = objects.filter((item) => !chosen.includes(item.id));
  return (others.find((item) => !item.locked) ?? others.at(-1))?.id;
}
