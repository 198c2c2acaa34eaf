// A step's numbers and words, edited in place by the chips that it was made by: everything later is replayed.
import { useId, useState } from "react";
import type { Exercise, SceneObject, Step } from "../api/types";
import type { AxisOp, MoreOp, StepOf, Values } from "../state/sentence";
import { useBench } from "../state/store";
import type { StepNumber } from "../steps/axisKind";
import { axisKindOf } from "../steps/axisKinds";
import { isAxisStep, kindOf } from "../steps/registry";
import { PivotChip, SpaceChip } from "../steps/SpaceChips";
import { inView } from "../steps/spaces";
import { short } from "../ui/numbers";
import { Button } from "../ui/parts";
import { TypedNumber } from "../ui/TypedNumber";

type Props = {
  step: Step;
  objects: readonly SceneObject[];
  conventions: Exercise["conventions"];
  onChange: (step: Step) => void;
};

export function StepEditor({ step, objects, conventions, onChange }: Props) {
  const take = (changed: Step) => onChange(inView(changed, useBench.getState().directions));
  return isAxisStep(step) ? (
    <FieldsEditor step={step} objects={objects} onChange={take} />
  ) : (
    <ChipsEditor {...{ step, objects, conventions }} onChange={take} />
  );
}

/** The chips that the step was made by, and a button that puts what they say in its place. */
function ChipsEditor({ step, objects, conventions, onChange }: Props & { step: StepOf<MoreOp> }) {
  const [values, setValues] = useState<Values<MoreOp>>(step);
  const { Chips } = kindOf(step.op);
  const chosen = "objects" in step ? step.objects : [];
  const changed = { ...step, ...values } as Step;
  return (
    <div className="mb-1 flex flex-wrap items-center gap-1.5">
      <Chips
        values={values}
        change={(part) => setValues((now) => ({ ...now, ...part }))}
        context={{ objects, chosen, conventions }}
      />
      <Button disabled={JSON.stringify(changed) === JSON.stringify(step)} onClick={() => onChange(changed)}>
        Save change
      </Button>
    </div>
  );
}

type FieldsProps = Pick<Props, "objects" | "onChange"> & { step: StepOf<AxisOp> };

/** The amounts, the space and the pivot of a step of axes and amounts; each takes its place at once. */
function FieldsEditor({ step, objects, onChange }: FieldsProps) {
  const kind = axisKindOf(step.op);
  const mode = step.to ? "to" : "by";
  const spaces = kind.spaces(mode);
  const pivotWord = kind.pivotWord(mode);
  return (
    <div className="mb-1 flex flex-wrap items-center gap-x-3 gap-y-1">
      {kind.numbers(step).map((number) => (
        <NumberField key={number.label} number={number} onChange={onChange} />
      ))}
      {spaces !== "none" && (
        <SpaceChip
          objects={objects}
          value={step.space}
          onlySet={spaces === "set"}
          onChange={(space) => onChange({ ...step, space } as Step)}
        />
      )}
      {pivotWord !== null && "pivot" in step && (
        <PivotChip
          objects={objects}
          on={step.objects.at(-1)}
          value={step.pivot}
          onChange={(pivot) => onChange({ ...step, pivot })}
        />
      )}
    </div>
  );
}

function NumberField({ number, onChange }: { number: StepNumber; onChange: (step: Step) => void }) {
  const id = useId();
  return (
    <label htmlFor={id} className="flex flex-wrap items-center gap-1 text-sm">
      {number.label}
      <TypedNumber
        id={id}
        shown={short(number.value)}
        onTake={(value) => onChange(number.with(value))}
        className="h-7 w-18 rounded-md border border-edge bg-sheet px-1 text-right font-mono aria-invalid:border-fail"
      />
    </label>
  );
}
