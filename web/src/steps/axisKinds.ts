// The kinds of step of amounts by axis.
import type { AxisOp } from "../state/sentence";
import type { AxisKind } from "./axisKind";
import { move } from "./move";
import { rotate } from "./rotate";
import { scale } from "./scale";

export const AXIS_KINDS: { readonly [O in AxisOp]: AxisKind<O> } = { move, rotate, scale };

export function axisKindOf<O extends AxisOp>(op: O): AxisKind<O> {
  return AXIS_KINDS[op];
}
