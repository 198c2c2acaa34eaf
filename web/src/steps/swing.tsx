// Swing: turned so that one line comes over another.
import type { Point } from "../api/types";
import { nth } from "../ui/lists";
import { type Letter, LetterChip, PointChip, Word } from "./chips";
import { asSpace, type ChipsProps, type Kind, otherThan } from "./kind";
import { PivotChip, SpaceChip } from "./SpaceChips";
import { SwingArms } from "./SwingArms";

export const swing: Kind<"swing"> = {
  name: "Swing",
  purpose: "Turn an object so that two lines coincide",
  group: "Orient",
  key: "S",
  acts: "chosen",
  // From a dot to a dot about the pivot is the usual swing: both lines begin there unless another point is chosen.
  begin: ({ conventions, chosen }) => {
    const pivot = chosen.length === 1 ? { object: nth(chosen, 0), at: "pivot" } : undefined;
    const line = [pivot, undefined] as never;
    return { axis: conventions.up, space: "world", pivot: "own", from: line, to: line };
  },
  make: (values) => {
    const [a, b] = pair(values.from);
    const [c, d] = pair(values.to);
    if (!a || !b) return "Choose the two points of the line to turn.";
    if (!c || !d) return "Choose the two points of the line to reach.";
    const { axis = "y", space = "world", pivot = "own" } = values;
    return { axis, space, pivot, from: [a, b], to: [c, d] };
  },
  Chips,
  Drawing: SwingArms,
};

type Pair = readonly [Point | undefined, Point | undefined];

/** The two points of a line, of which one may not be chosen yet. */
function pair(line: unknown): Pair {
  return (line as Pair | undefined) ?? [undefined, undefined];
}

function Chips({ values, change, context }: ChipsProps<"swing">) {
  const line = (field: "from" | "to", at: 0 | 1, label: string, on: string | undefined) => {
    const now = pair(values[field]);
    const taken = (point: Point) => change({ [field]: at === 0 ? [point, now[1]] : [now[0], point] });
    return <PointChip label={label} objects={context.objects} on={on} value={now[at]} onChange={taken} />;
  };
  const own = context.chosen.at(-1);
  const other = otherThan(context.chosen, context.objects);
  return (
    <>
      <Word>about</Word>
      <LetterChip
        label="Axis"
        value={typeof values.axis === "string" ? (values.axis as Letter) : null}
        onChange={(axis) => change({ axis })}
      />
      <Word>of</Word>
      <SpaceChip
        objects={context.objects}
        value={values.space ?? "world"}
        onChange={(space) => change({ space: asSpace(space) })}
      />
      <Word>through</Word>
      <PivotChip
        objects={context.objects}
        on={own}
        value={values.pivot ?? "own"}
        onChange={(pivot) => change({ pivot })}
      />
      <Word>from</Word>
      {line("from", 0, "Line from", own)}
      <Word>→</Word>
      {line("from", 1, "Line from, end", own)}
      <Word>to</Word>
      {line("to", 0, "Line to", other)}
      <Word>→</Word>
      {line("to", 1, "Line to, end", other)}
    </>
  );
}
