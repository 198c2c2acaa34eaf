// Duplicate: copies, each made from the one before, with a step done between them.
import type { Pivot } from "../api/types";
import { Select } from "../ui/Select";
import { AmountChip, type Letter, LetterChip, VectorChip, Word } from "./chips";
import { type ChipsProps, freeId, type Kind } from "./kind";
import { PivotChip } from "./SpaceChips";
import { topmost } from "./setting";

type Between = {
  op: string;
  by?: [number, number, number] | undefined;
  angle?: number | undefined;
  axis?: Letter;
  pivot?: Pivot;
};

export const duplicate: Kind<"duplicate"> = {
  name: "Duplicate",
  purpose: "Make copies, with a step between one and the next",
  group: "Make",
  key: "C",
  acts: "chosen",
  begin: ({ conventions }) => ({
    copies: 1,
    between: { op: "move", by: [{ mm: 1000, cm: 100, m: 1, in: 40, ft: 3 }[conventions.length], 0, 0] },
  }),
  make: ({ copies, between }, { chosen, objects }) => {
    if (copies === undefined || !Number.isInteger(copies) || copies < 1 || copies > 1000)
      return "Type the number of copies, from 1 to 1,000.";
    const step = between as Between | null | undefined;
    if (step?.op === "move" && !step.by) return "Type how far each copy goes.";
    if (step?.op === "rotate" && step.angle === undefined) return "Type the angle of each copy.";
    const ids: string[] = [];
    for (let copy = 0; copy < copies; copy++)
      for (const id of topmost(chosen, objects)) ids.push(freeId(id, objects, ids));
    return { copies, ids, between: between ?? null };
  },
  Chips,
};

function Chips({ values, change, context }: ChipsProps<"duplicate">) {
  const step = (values.between ?? null) as Between | null;
  const first: Record<string, Between | null> = {
    none: null,
    move: { op: "move", by: [1, 0, 0] },
    rotate: { op: "rotate", axis: context.conventions.up, angle: 30 },
  };
  return (
    <>
      <AmountChip
        label="Copies"
        unit="times"
        value={values.copies}
        onChange={(copies) => change({ copies: copies as number })}
      />
      <Word>each time</Word>
      <Select
        label="Each time"
        value={step?.op ?? "none"}
        options={[
          { value: "none", text: "nothing" },
          { value: "move", text: "move the copy by" },
          { value: "rotate", text: "rotate the copy by" },
        ]}
        onChange={(op) => change({ between: first[op] ? put(first[op]) : null })}
      />
      {step?.op === "move" && (
        <>
          <VectorChip
            label="By"
            value={step.by}
            onChange={(by) => change({ between: put({ ...step, by }) })}
          />
          <Word>{context.conventions.length}</Word>
        </>
      )}
      {step?.op === "rotate" && (
        <>
          <AmountChip
            label="Angle"
            unit={context.conventions.angle === "deg" ? "°" : context.conventions.angle}
            value={step.angle}
            onChange={(angle) => change({ between: put({ ...step, angle }) })}
          />
          <Word>about</Word>
          <LetterChip
            label="Axis"
            value={step.axis ?? null}
            onChange={(axis) => change({ between: put({ ...step, axis }) })}
          />
          <Word>through</Word>
          <PivotChip
            objects={context.objects}
            on={context.chosen.at(-1)}
            value={step.pivot ?? "own"}
            onChange={(pivot) => change({ between: put({ ...step, pivot }) })}
          />
        </>
      )}
    </>
  );
}

/** A step without objects as the API takes it: any keys beside its kind. */
function put(step: Between): { op: string } & Record<string, unknown> {
  return { ...step };
}
