// Add: a solid from the rack, its sizes typed at once.
import type { Exercise, Solid } from "../api/types";
import type { Values } from "../state/sentence";
import { nth } from "../ui/lists";
import { Select } from "../ui/Select";
import { AmountChip, TextChip, Word } from "./chips";
import { type ChipsProps, freeId, type Kind } from "./kind";
import { boxSizes, standingFree } from "./standing";

export type RackKind = Exclude<Solid["kind"], "mesh">;

/** What each solid of the rack is given, in the order in which it is typed. */
const MEASURES: { readonly [K in RackKind]: readonly string[] } = {
  cuboid: ["x", "y", "z"],
  wedge: ["x", "y", "z"],
  pyramid: ["x", "y", "z"],
  sphere: ["diameter"],
  cylinder: ["diameter", "height"],
  cone: ["diameter", "height"],
  tube: ["diameter", "bore", "height"],
  ring: ["diameter", "thickness"],
  plate: ["first side", "second side"],
};

export const RACK = Object.keys(MEASURES) as readonly RackKind[];

/** What the field of a measure is called. */
function sizeLabel(measure: string): string {
  return `Size ${measure.length === 1 ? measure.toUpperCase() : measure}`;
}

/** What adding a solid of the rack begins with. */
export function addOf(kind: RackKind, conventions: Exercise["conventions"]): Values<"add"> {
  return { object: { id: "", solid: solidOf(kind, firstSizes(kind, conventions)) } as never };
}

export const add: Kind<"add"> = {
  name: "Add",
  purpose: "A new solid at the marker or beside the other solids",
  group: "Make",
  key: "+",
  acts: "none",
  begin: ({ conventions }) => addOf("cuboid", conventions),
  make: ({ object }, { objects, conventions, ground }) => {
    const solid = object?.solid;
    if (!solid || sizesOf(solid).some((size) => !(size > 0))) return "Type every size. Each must be above 0.";
    const name = object.name?.trim() || freeName(solid.kind, objects);
    const named = { ...object, name, id: freeId(name, objects) };
    if (!ground || solid.kind === "mesh") return { object: named };
    const gap = METRES[conventions.length] / 4;
    const up = conventions.up === "y" ? 1 : 2;
    const translation = standingFree(boxSizes(solid, conventions), gap, up, ground);
    return { object: { ...named, translation: [...translation] } };
  },
  Chips,
};

function Chips({ values, change, context }: ChipsProps<"add">) {
  const { object } = values;
  const solid = object?.solid;
  if (!object || !solid || solid.kind === "mesh") return null;
  const sizes = sizesOf(solid);
  const with_ = (next: Solid) => change({ object: { ...object, solid: next } });
  return (
    <>
      <Select
        label="Solid"
        value={solid.kind}
        options={Object.keys(MEASURES).map((kind) => ({ value: kind, text: `a ${kind}` }))}
        onChange={(kind) =>
          with_(solidOf(kind as RackKind, firstSizes(kind as RackKind, context.conventions)))
        }
      />
      {MEASURES[solid.kind].map((measure, i) => (
        <span key={solid.kind + measure} className="inline-flex items-center gap-1">
          <Word>{measure.length === 1 ? measure.toUpperCase() : measure}</Word>
          <AmountChip
            label={sizeLabel(measure)}
            unit={context.conventions.length}
            value={sizes[i]}
            onChange={(size) =>
              with_(
                solidOf(
                  solid.kind as RackKind,
                  sizes.map((old, j) => (i === j ? (size ?? Number.NaN) : old)),
                ),
              )
            }
          />
        </span>
      ))}
      <Word>called</Word>
      <TextChip
        label="Name"
        value={object.name ?? ""}
        onChange={(name) => change({ object: { ...object, name } })}
      />
    </>
  );
}

function sizesOf(solid: Solid): number[] {
  if (solid.kind === "mesh") return [];
  if ("size" in solid) return [...solid.size];
  const numbers = new Map<string, unknown>(Object.entries(solid));
  return MEASURES[solid.kind].map((name) => Number(numbers.get(name)));
}

/** What a solid of the rack measures, each with what it is called. */
export function measuresOf(solid: Solid): { name: string; value: number }[] {
  if (solid.kind === "mesh") return [];
  const names = MEASURES[solid.kind];
  return sizesOf(solid).map((value, i) => ({ name: nth(names, i), value }));
}

/** The solid with another one of its measures. */
export function solidWith(solid: Solid, place: number, size: number): Solid {
  const sizes = sizesOf(solid).map((old, i) => (i === place ? size : old));
  return { ...solid, ...solidOf(solid.kind as RackKind, sizes) };
}

function solidOf(kind: RackKind, sizes: readonly number[]): Solid {
  const names = MEASURES[kind];
  const boxed = kind === "cuboid" || kind === "wedge" || kind === "pyramid" || kind === "plate";
  const measures = boxed
    ? { size: [...sizes] }
    : Object.fromEntries(names.map((name, i) => [name, sizes[i]]));
  return { kind, ...measures } as Solid;
}

const METRES = { mm: 1000, cm: 100, m: 1, in: 39, ft: 3 } as const;

/** A metre or so in each direction; what lies inside another is smaller. */
function firstSizes(kind: RackKind, { length }: Exercise["conventions"]): number[] {
  const metre = METRES[length];
  const inner: Record<string, number> = { bore: 0.5, thickness: 0.25 };
  return MEASURES[kind].map((name) => metre * (inner[name] ?? 1));
}

function freeName(kind: string, objects: readonly { name: string }[]): string {
  const word = nth(kind, 0).toUpperCase() + kind.slice(1);
  const taken = new Set(objects.map((item) => item.name));
  if (!taken.has(word)) return word;
  for (let n = 2; ; n++) if (!taken.has(`${word} ${n}`)) return `${word} ${n}`;
}
