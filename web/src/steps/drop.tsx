// Drop: down onto the ground, or onto what is below.
import { Switches } from "../ui/chips";
import { AmountChip, Word } from "./chips";
import type { Kind } from "./kind";

export const drop: Kind<"drop"> = {
  name: "Drop",
  purpose: "Lower an object onto the ground or the solid below",
  group: "Place",
  key: "D",
  acts: "chosen",
  atOnce: true,
  begin: () => ({ onto: "ground", clearance: 0 }),
  make: ({ onto, clearance }) =>
    clearance === undefined ? "Type the clearance, or 0." : { onto: onto ?? "ground", clearance },
  Chips: ({ values, change, context }) => (
    <>
      <Word>onto</Word>
      <Switches
        label="Onto"
        value={values.onto ?? "ground"}
        words={{ ground: "the ground", below: "what is below" }}
        onChange={(onto) => change({ onto })}
      />
      <Word>clear by</Word>
      <AmountChip
        label="Clearance"
        unit={context.conventions.length}
        value={values.clearance}
        onChange={(clearance) => change({ clearance: clearance as number })}
      />
    </>
  ),
};
