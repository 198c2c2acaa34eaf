// Checks as the table shows and changes them. Pure.
import type { Check, CheckResult, SceneObject, Solid } from "../api/types";

export type CheckKind = Check["kind"];

/** What each kind looks at, in the words of the menu. */
export const KINDS: Readonly<Record<CheckKind, string>> = {
  position: "where it is",
  rotation: "how it is turned",
  size: "how large it is",
  shape: "its whole shape",
  pivot: "where its pivot is",
  parent: "whose child it is",
  name: "what it is called",
  look: "its colour and opacity",
  count: "how many of a solid there are",
  relation: "how it stands to another",
  process: "how it was done",
};

const POINTS = ["pivot", "centre", "+x", "-x", "+y", "-y", "+z", "-z"];
export const POINT_OPTIONS = POINTS.map((value) => ({ value, text: pointWords(value) }));

function pointWords(point: string): string {
  if (point === "pivot") return "its pivot";
  if (point === "centre") return "its centre";
  return `face ${point[0] === "-" ? "−" : "+"}${point[1]!.toUpperCase()}`;
}

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

type ProcessCheck = Extract<Check, { kind: "process" }>;
const FIRST_MOST = 5;

/** A rule of the way with what it cannot do without: a kind of step, or how many. */
export function withRule(check: ProcessCheck, rule: string): ProcessCheck {
  const { op: _op, steps: _steps, ...rest } = check;
  const next = { ...rest, rule } as ProcessCheck;
  if (rule === "uses" || rule === "avoids") return { ...next, op: check.op ?? "move" };
  return rule === "at_most" ? { ...next, steps: check.steps ?? FIRST_MOST } : next;
}

/** What a check is of, in words: the core's where it has judged it. */
export function wordsOf(check: Check, results: readonly CheckResult[]): string {
  return results.find((result) => result.id === check.id)?.label ?? `${KINDS[check.kind]}: ${check.id}`;
}

/** The objects that a check is of. */
export function objectsOf(check: Check): readonly string[] {
  if (!("object" in check) || check.object === null || check.object === undefined) return [];
  return typeof check.object === "string" ? [check.object] : check.object;
}

export type SolidKind = Solid["kind"];
