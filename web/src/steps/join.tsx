// Join: one point brought to another.
import { PointChip, Word } from "./chips";
import { JoinLine } from "./JoinLine";
import { type Kind, otherThan } from "./kind";

export const join: Kind<"join"> = {
  name: "Join",
  purpose: "Bring a point of it to a point of another",
  group: "Place",
  key: "J",
  acts: "chosen",
  begin: () => ({}),
  make: ({ point, to }) => {
    if (!point) return "Choose the point that is to be brought somewhere.";
    return to ? { point, to } : "Choose the point that it is to come to.";
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
