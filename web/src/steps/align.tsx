// Align: the sides or middles of boxes brought to those of another.
import { Switches } from "../ui/chips";
import { AlignPlanes } from "./AlignPlanes";
import { ObjectChip, Word } from "./chips";
import { asSpace, type Kind, otherThan } from "./kind";
import { SpaceChip } from "./SpaceChips";

const SIDES = { none: "·", min: "−", centre: "mid", max: "+" } as const;
const LETTERS = ["x", "y", "z"] as const;

export const align: Kind<"align"> = {
  name: "Align",
  purpose: "Line up sides or centres with another object",
  group: "Place",
  key: "A",
  acts: "chosen",
  begin: ({ chosen, objects }) => ({ to: otherThan(chosen, objects) ?? "selection", space: "world" }),
  make: (values) => {
    if (values.to === undefined) return "Choose what to align with.";
    if (!values.x && !values.y && !values.z) return "Choose a side or the middle on at least one axis.";
    return { ...values, space: values.space ?? "world", to: values.to };
  },
  Drawing: AlignPlanes,
  Chips: ({ values, change, context }) => (
    <>
      <Word>with</Word>
      <ObjectChip
        label="With"
        objects={context.objects}
        value={values.to}
        also={{ selection: "the selection" }}
        onChange={(to) => change({ to })}
      />
      {LETTERS.map((axis) => (
        <span key={axis} className="inline-flex items-center gap-1">
          <span className="font-mono font-bold">{axis.toUpperCase()}</span>
          <Switches
            label={`Side along ${axis.toUpperCase()}`}
            value={values[axis] ?? "none"}
            narrow
            words={SIDES}
            onChange={(side) => change({ [axis]: side === "none" ? null : side })}
          />
        </span>
      ))}
      <Word>of</Word>
      <SpaceChip
        objects={context.objects}
        value={values.space ?? "world"}
        onChange={(space) => change({ space: asSpace(space) })}
      />
    </>
  ),
};
