// Rotate: by an angle about an axis through a pivot, or to three angles.
import type { StepOf } from "../state/sentence";
import { entry, nth } from "../ui/lists";
import {
  type Axes,
  type AxisIndex,
  about,
  along,
  column,
  cross,
  dot,
  each,
  inverse,
  length,
  type Matrix16,
  product,
  scaled,
  turnColumns,
  unit,
  type Vec3,
  WORLD_AXES,
} from "../view3d/matrices";
import { angleWords, setWords } from "./amountWords";
import { type AxisKind, axisLetter, type Three, threeNumbers, typedFor } from "./axisKind";
import { RotateHandles } from "./RotateHandles";
import { frameOf, isSkewed, parentOf, pivotWorld, radiansPer, type Setting } from "./setting";

export const rotate: AxisKind<"rotate"> = {
  name: "Rotate",
  verb: "rotates",
  key: "r",
  unit: (_, { angle }) => (angle === "deg" ? "°" : ` ${angle}`),
  sizeUnit: ({ angle }) => (angle === "deg" ? "°" : ` ${angle}`),
  letters: (mode, { euler }) => (mode === "to" ? euler.toUpperCase() : "XYZ"),
  takesOne: ({ mode }) => mode === "by",
  takesAll: (mode) => mode === "to",
  seenAcross: false,
  spaces: (mode) => (mode === "to" ? "set" : "all"),
  pivotWord: (mode) => (mode === "by" ? "through" : null),
  begin: {},
  invitation: ({ mode, lit }, names, several) =>
    mode === "by"
      ? `Type the angle that ${names} ${several ? "turn" : "turns"} about ${"XYZ"[lit]}, or drag a ring.`
      : `Type the angles that ${names} ${several ? "are" : "is"} to have. Blank angles stay as they are.`,
  make({ sentence: { mode, lit, pivot }, values, space, reading }) {
    if (mode === "by") return { op: "rotate", space, axis: axisLetter(lit), angle: nth(values, lit), pivot };
    if (space !== "world" && space !== "parent")
      return "Target angles are in World or Parent. Choose one of these.";
    const to = values.map((value, i) => value ?? reading?.[space].angles[i] ?? null);
    if (to.includes(null)) return "Type all three angles, because the objects have different angles now.";
    return { op: "rotate", space, pivot: "own", to: to as Three };
  },
  words(step, conventions) {
    const angle = angleWords(conventions);
    if (step.to) return `to ${setWords(step.to, conventions.euler.toUpperCase(), angle)}`;
    return `by ${angle(step.angle!)} about ${String(step.axis).toUpperCase()}`;
  },
  hasDirections: () => true,
  now: (reading, space) => reading[space === "parent" ? "parent" : "world"].angles,
  Extras: null,
  // Common practice, no source: the angles that people turn by.
  sizes: [90, 15, 5, 1],
  firstSize: 15,
  perUnit: (conventions) => Math.PI / 180 / radiansPer(conventions),
  nudge: (size, way) => way * size,
  numbers: (step) =>
    step.to
      ? threeNumbers("to", step.to, (to) => ({ ...step, to, entry: "typed" }))
      : [{ label: "angle", value: step.angle!, with: (angle) => ({ ...step, angle, entry: "typed" }) }],
  motion(step, setting, id, ids) {
    if (step.to) return turnToMotion(step, setting, id);
    const centre = pivotWorld(step.pivot, setting, id, ids);
    return centre && turnMotion(step, setting, id, centre);
  },
  handlesFollow: false,
  Handles: RotateHandles,
};

function turnMotion(step: StepOf<"rotate">, setting: Setting, id: string, centre: Vec3): Matrix16 | null {
  const frame = frameOf(step.space, setting, id);
  if (frame === null) return null;
  const axis =
    typeof step.axis === "string" ? WORLD_AXES["xyz".indexOf(step.axis) as AxisIndex] : unit(step.axis!);
  return about(turnColumns(along(frame.axes, axis), step.angle! * radiansPer(setting.conventions)), centre);
}

function turnToMotion(step: StepOf<"rotate">, setting: Setting, id: string): Matrix16 | null {
  const { poses, conventions } = setting;
  const parent = step.space === "parent" ? parentOf(id, setting) : null;
  const { world_from_local, pivot_world } = entry(poses, id);
  const target_from_world = parent ? inverse(entry(poses, parent).world_from_local) : null;
  const target_from_local = target_from_world
    ? product(target_from_world, world_from_local)
    : world_from_local;
  const columns = each((k) => column(target_from_local, k));
  if (isSkewed(columns)) return null;
  const mirrored = dot(cross(columns[0], columns[1]), columns[2]) < 0;
  const turn = eulerColumns(conventions.euler, step.to!, radiansPer(conventions));
  const after = each((k) => scaled(turn[k], length(columns[k]) * (mirrored && k === 0 ? -1 : 1)));
  const linear_after = about(after, [0, 0, 0]);
  const linear_before = about(columns, [0, 0, 0]);
  const motion_target = product(linear_after, inverse(linear_before));
  const motion = target_from_world
    ? product(product(linearOf(inverse(target_from_world)), motion_target), linearOf(target_from_world))
    : motion_target;
  return about(
    each((k) => column(motion, k)),
    pivot_world,
  );
}

/** Columns of the rotation of three Euler angles: capitals about the turned axes, small letters about the fixed ones. */
function eulerColumns(order: string, angles: Vec3, radians: number): Axes {
  const [a, b, c] = each((i) => {
    const axis = WORLD_AXES["xyz".indexOf(nth(order, i).toLowerCase()) as AxisIndex];
    return about(turnColumns(axis, angles[i] * radians), [0, 0, 0]);
  });
  const turnsWith = order === order.toUpperCase();
  const all = turnsWith ? product(product(a, b), c) : product(product(c, b), a);
  return each((k) => column(all, k));
}

function linearOf(m: Matrix16): Matrix16 {
  return m.map((value, i) => (i >= 12 && i < 15 ? 0 : value));
}

/** The step that sets an object's three angles in a space. */
export function turnedTo(id: string, space: "world" | "parent", to: Three): StepOf<"rotate"> {
  return { op: "rotate", ...typedFor(id), space, to, pivot: "own" };
}

/** The step that turns an object about an axis of the world through its pivot. */
export function turnedAbout(id: string, axis: Three, angle: number): StepOf<"rotate"> {
  return { op: "rotate", ...typedFor(id), space: "world", axis, angle, pivot: "own" };
}
