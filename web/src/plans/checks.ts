// Checks as the table shows and changes them. Pure.
import type { Check, Checked, CheckResult, SceneObject, Solid, Space } from "../api/types";
import { nth } from "../ui/lists";

/** An answer with the exercise, which does not come again while a tolerance is dragged. */
export type Whole = Checked & { exercise: NonNullable<Checked["exercise"]> };

export type CheckKind = Check["kind"];
/** stretch: what goes on being changed, such as a tolerance under the pointer: it is undone at once. */
export type OnChecks = (checks: Check[], stretch?: string) => void;

/** The name of each kind of check. */
export const KINDS: Readonly<Record<CheckKind, string>> = {
  position: "position",
  rotation: "rotation",
  size: "size",
  shape: "shape",
  pivot: "pivot",
  parent: "parent",
  name: "name",
  look: "colour and opacity",
  count: "number of solids",
  relation: "relation to another object",
  process: "method",
  "by-hand": "judged by hand",
};

/** A check of a kind for an object, as it begins; its id is new. */
export function begun(kind: CheckKind, item: SceneObject, checks: readonly Check[]): Check {
  const id = freeId(`${item.id} ${kind}`, checks);
  const base = { id, kind, points: 1, zero_at: 1 };
  const of = { ...base, object: item.id };
  const said: Record<CheckKind, object> = {
    position: { ...of, tolerance: 0.1, point: "pivot", space: "world", axes: "xyz", measure: "each" },
    rotation: { ...of, tolerance: 5, measure: "angle", space: "world", symmetry: "look" },
    size: { ...of, tolerance: 0.05, axes: "xyz", measure: "ratio", symmetry: "strict" },
    shape: { ...of, tolerance: 0.1, symmetry: "look" },
    pivot: { ...of, tolerance: 0.05 },
    parent: of,
    name: of,
    look: { ...of, tolerance: 0 },
    count: { ...base, solid: item.solid?.kind ?? "cuboid", tolerance: 0 },
    relation: {
      ...of,
      relation: "rests_on",
      other: "ground",
      stable: false,
      space: "world",
      tolerance: 0.02,
    },
    process: { ...base, rule: "typed", declared: false },
    "by-hand": { ...base, points: 3, title: "Does it look right?", look_for: "" },
  };
  return said[kind] as Check;
}

function freeId(stem: string, checks: readonly Check[]): string {
  const taken = new Set(checks.map((check) => check.id));
  for (let n = 1; ; n++) {
    const id = n === 1 ? stem : `${stem} ${n}`;
    if (!taken.has(id)) return id;
  }
}

/** The one tolerance of a check; none where it has none, or one an axis. */
export function toleranceOf(check: Check): number | null {
  return "tolerance" in check && typeof check.tolerance === "number" ? check.tolerance : null;
}

/** What stands behind a tolerance: the exercise's unit, or a share of the size. */
export function unitOf(check: Check, units: { length: string; angle: string }): string {
  if (check.kind === "rotation" || (check.kind === "relation" && check.relation === "faces"))
    return units.angle === "deg" ? "°" : units.angle;
  if (check.kind === "size" && check.measure === "ratio") return "of its size";
  if (check.kind === "look") return "of a colour";
  return check.kind === "count" ? "" : units.length;
}

export function withTolerance(checks: readonly Check[], id: string, tolerance: number): Check[] {
  return checks.map((check) => (check.id === id ? ({ ...check, tolerance } as Check) : check));
}

type Of<K extends CheckKind> = Extract<Check, { kind: K }>;
export type Relation = Of<"relation">["relation"];
export type Rule = Of<"process">["rule"];

export const RELATIONS: Readonly<Record<Relation, string>> = {
  rests_on: "rests on",
  touches: "touches",
  gap: "has a gap to",
  clear_of: "is clear of",
  centred_on: "is centred on",
  flush: "is flush with",
  faces: "faces",
  row: "is in line with",
  inside_plot: "is inside the plot",
};

export const RULES: Readonly<Record<Rule, string>> = {
  typed: "every step is typed",
  multiple: "every value is a multiple",
  uses: "some step matches",
  avoids: "no step matches",
  at_most: "a limit on steps",
};

const FIRST_MOST = 5;
const LEAST_ROW = 3;

/** What each rule of the way cannot do without, as it begins. What two rules share is kept from one to the other. */
const RULE_NEEDS: Readonly<Record<Rule, Partial<Of<"process">>>> = {
  typed: {},
  multiple: { of: 1 },
  uses: { op: "move" },
  avoids: { op: "move" },
  at_most: { steps: FIRST_MOST },
};
const WAY_PARTS = ["op", "axis", "space", "pivot"] as const;

export function withRule(check: Of<"process">, rule: Rule): Of<"process"> {
  const { id, kind, points, zero_at, object, declared } = check;
  const shared = { id, kind, points, zero_at, ...(object ? { object } : {}) };
  if (rule !== "uses" && rule !== "avoids") return { ...shared, declared: false, rule, ...RULE_NEEDS[rule] };
  const way = Object.fromEntries(WAY_PARTS.flatMap((part) => (check[part] ? [[part, check[part]]] : [])));
  return { ...shared, declared, rule, ...(Object.keys(way).length > 0 ? way : RULE_NEEDS[rule]) };
}

/** A part of the way said or left open; the last one that is said stays, since a rule of nothing is none. */
export function withWay(
  check: Of<"process">,
  part: (typeof WAY_PARTS)[number],
  value: unknown,
): Of<"process"> {
  const { [part]: _before, ...rest } = check;
  if (value !== null) return { ...rest, [part]: value } as Of<"process">;
  return WAY_PARTS.some((other) => other !== part && check[other]) ? (rest as Of<"process">) : check;
}

/** A relation with what it cannot do without; the other and the axes stay where both relations have them. */
export function withRelation(
  check: Of<"relation">,
  relation: Relation,
  objects: readonly SceneObject[],
): Of<"relation"> {
  const { id, kind, points, zero_at, tolerance, space } = check;
  const base = { id, kind, points, zero_at, tolerance, stable: false, space, relation };
  const of = objectsOf(check);
  if (relation === "row") {
    const more = objects.map((item) => item.id).filter((other) => !of.includes(other));
    return { ...base, object: [...of, ...more.slice(0, Math.max(0, LEAST_ROW - of.length))] };
  }
  const one = { ...base, object: check.relation === "row" ? nth(of, 0) : check.object };
  if (relation === "inside_plot") return one;
  const free = objects.find((item) => !of.includes(item.id))?.id;
  const known = check.other && (check.other !== "ground" || relation === "rests_on") ? check.other : null;
  const between = { ...one, other: known ?? (relation === "rests_on" ? "ground" : free!) };
  const axes = check.axes ? { axes: check.axes } : {};
  switch (relation) {
    case "gap":
      return { ...between, distance: check.distance ?? 0 };
    case "flush":
      return { ...between, side: check.side ?? "max", ...axes };
    case "centred_on":
      return { ...between, ...axes };
    case "faces":
      return { ...between, axis: check.axis ?? "+x" };
    default:
      return between;
  }
}

/** Relations that can be asked of so many objects: a row needs three, most others another one. */
export function relationsAmong(objects: readonly SceneObject[]): Relation[] {
  const least: Partial<Record<Relation, number>> = { rests_on: 1, inside_plot: 1, row: LEAST_ROW };
  return (Object.keys(RELATIONS) as Relation[]).filter((each) => objects.length >= (least[each] ?? 2));
}

/** A tolerance for each axis, or the widest of them for all. */
export function withOwnTolerances<C extends Of<"position" | "size">>(check: C, own: boolean): C {
  const all = [check.tolerance].flat();
  const tolerance = own ? [...check.axes].map((_, i) => all[i] ?? nth(all, 0)) : Math.max(...all);
  return { ...check, tolerance };
}

/** The axes that are compared; tolerances of their own go with them. */
export function withAxes<C extends Of<"position" | "size">>(check: C, axes: string): C {
  if (typeof check.tolerance === "number") return { ...check, axes };
  const known = new Map([...check.axes].map((axis, i) => [axis, (check.tolerance as number[])[i]!]));
  const widest = Math.max(...known.values());
  return { ...check, axes, tolerance: [...axes].map((axis) => known.get(axis) ?? widest) };
}

/** What a check is of, in words: the core's where it has judged it. */
export function wordsOf(check: Check, results: readonly CheckResult[]): string {
  return results.find((result) => result.id === check.id)?.label ?? `${KINDS[check.kind]}: ${check.id}`;
}

/** The objects that a check is of. */
export function objectsOf(check: Check): readonly string[] {
  return "object" in check && check.object ? [check.object].flat() : [];
}

export function withObjects(check: Check, objects: readonly string[]): Check {
  const object = objects.length > 1 ? [...objects] : (objects[0] ?? null);
  return { ...check, object } as Check;
}

export const SOLIDS: Readonly<Record<Solid["kind"], string>> = {
  cuboid: "cuboids",
  wedge: "wedges",
  pyramid: "pyramids",
  sphere: "spheres",
  cylinder: "cylinders",
  cone: "cones",
  tube: "tubes",
  ring: "rings",
  plate: "plates",
  mesh: "meshes",
};

/** The spaces that a check is measured in, or that steps are asked to go by. */
export function spacesAmong(objects: readonly SceneObject[]): Space[] {
  return ["world", "parent", "local", ...objects.map((item) => ({ object: item.id }))];
}
