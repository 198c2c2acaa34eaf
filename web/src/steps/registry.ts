// All kinds of step. One that the core knows and this list does not is a type error.
import type { Step } from "../api/types";
import type { AxisOp, MoreOp, MoreSentence, Op, StepOf } from "../state/sentence";
import { add } from "./add";
import { aim } from "./aim";
import { align } from "./align";
import { assemble } from "./assemble";
import { AXIS_KINDS } from "./axisKinds";
import { drop } from "./drop";
import { duplicate } from "./duplicate";
import { join } from "./join";
import type { Context, Kind } from "./kind";
import { marker } from "./marker";
import { nest } from "./nest";
import { paint } from "./paint";
import { pivot } from "./pivot";
import { put } from "./put";
import { remove } from "./remove";
import { rename } from "./rename";
import { swing } from "./swing";

const KINDS: { readonly [O in MoreOp]: Kind<O> } = {
  align,
  drop,
  join,
  put,
  aim,
  swing,
  add,
  duplicate,
  remove,
  nest,
  assemble,
  pivot,
  marker,
  rename,
  paint,
};

export const AXIS_OPS = Object.keys(AXIS_KINDS) as readonly AxisOp[];
export const MORE_OPS = Object.keys(KINDS) as readonly MoreOp[];

/** A kind by its name; what it is given is what it gave. */
export function kindOf<O extends MoreOp>(op: O): Kind<O> {
  return KINDS[op];
}

export function isMore(op: Op): op is MoreOp {
  return op in KINDS;
}

/** Whether it is a step of axes and amounts, which the screen can work out itself. */
export function isAxisStep(step: Step): step is StepOf<AxisOp> {
  return step.op in AXIS_KINDS;
}

let turns = 0;

export function begun(op: MoreOp, context: Context): MoreSentence {
  turns += 1;
  return { op, values: kindOf(op).begin(context), turn: turns };
}

/** The step that a sentence makes, or what it lacks. */
export function madeOf({ op, values }: MoreSentence, context: Context): Step | string {
  const kind = kindOf(op);
  const { chosen } = context;
  if (kind.acts !== "none" && chosen.length === 0) return "Select an object in the view or in the list.";
  if (kind.acts === "one" && chosen.length > 1) return "This works on one object. Select just one.";
  const body = kind.make(values, context);
  if (typeof body === "string") return body;
  const objects = kind.acts === "none" ? [] : [...chosen];
  return { op, objects, ...body, entry: "typed" } as StepOf<MoreOp>;
}
