// A step's numbers and words, edited in place: everything later is replayed.
import { useId, useState } from "react";
import type { Exercise, SceneObject, Step } from "../api/types";
import type { MoreOp, Values } from "../steps/kind";
import { isMore, kindOf } from "../steps/registry";
import { short } from "../ui/numbers";
import { Button } from "../ui/parts";
import { TypedNumber } from "../ui/TypedNumber";
import { numbersOf, type StepNumber, wordsOf } from "./stepNumbers";

const WORDS: Record<string, string> = {
  own: "its pivot",
  box: "centre of its box",
  selection: "middle of the chosen",
};

type Props = {
  step: Step;
  objects: readonly SceneObject[];
  conventions: Exercise["conventions"];
  onChange: (step: Step) => void;
};

export function StepEditor({ step, objects, conventions, onChange }: Props) {
  return isMore(step.op) ? (
    <ChipsEditor {...{ step, objects, conventions, onChange }} op={step.op} />
  ) : (
    <FieldsEditor step={step} onChange={onChange} />
  );
}

/** The chips that the step was made by, and a button that puts what they say in its place. */
function ChipsEditor({ step, op, objects, conventions, onChange }: Props & { op: MoreOp }) {
  const [values, setValues] = useState<Values<MoreOp>>(step);
  const { Chips } = kindOf(op);
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
        Change it
      </Button>
    </div>
  );
}

function FieldsEditor({ step, onChange }: Pick<Props, "step" | "onChange">) {
  const numbers = numbersOf(step);
  const words = wordsOf(step);
  const id = useId();
  if (numbers.length + words.length === 0) return null;
  return (
    <div className="mb-1 flex flex-wrap gap-x-3 gap-y-1">
      {numbers.map((number) => (
        <NumberField key={number.label} number={number} onChange={onChange} />
      ))}
      {words.map((word) => (
        <label key={word.label} htmlFor={id + word.label} className="flex items-center gap-1 text-sm">
          {word.label}
          <select
            id={id + word.label}
            value={word.value}
            onChange={(event) => onChange(word.with(event.target.value))}
            className="h-7 rounded-md border border-edge bg-sheet px-1"
          >
            {word.options.map((option) => (
              <option key={option} value={option}>
                {WORDS[option] ?? option}
              </option>
            ))}
          </select>
        </label>
      ))}
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
