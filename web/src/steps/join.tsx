// Join: one point brought to another.
import { PointChip, Word } from "./chips";
import { JoinLine } from "./JoinLine";
import { type Kind, otherThan } from "./kind";

export const join: Kind<"join"> = {
  name: "Join",
  purpose: "Move an object so that two points meet",
  group: "Place",
  key: "J",
  acts: "chosen",
  begin: () => ({}),
  make: ({ point, to }) => {
    if (!point) return "Choose the point to move.";
    return to ? { point, to } : "Choose the point to move it to.";
  },
  Drawing: JoinLine,
  Chips: ({ values, change, context }) => (
    <>
      <Word>from</Word>
      <PointChip
        label="From point"
        objects={context.objects}
        on={context.chosen.at(-1)}
        value={values.point}
        onChange={(point) => change({ point })}
      />
      <Word>to</Word>
      <PointChip
        label="To point"
        objects={context.objects}
        on={otherThan(context.chosen, context.objects)}
        value={values.to}
        onChange={(to) => change({ to })}
      />
    </>
  ),
};
