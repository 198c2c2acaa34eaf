// The step sentence at the foot of the bench: a step in words, edited chip by chip.

import { Check, ChevronUp, Lock } from "lucide-react";
import { Select, ToggleGroup } from "radix-ui";
import { type KeyboardEvent, type ReactNode, type RefObject, useEffect } from "react";
import type { Exercise, Poses } from "../api/types";
import { short } from "../ui/numbers";
import { Button } from "../ui/parts";
import { AXIS_TEXT } from "../view3d/Ground";
import { AXIS_INDICES, AXIS_NAMES, type AxisIndex } from "../view3d/matrices";
import { type Mode, type Reading, type SpaceWord, withAmount, withAxisSwitched } from "./sentence";
import { useBench } from "./store";

type Props = {
  exercise: Exercise;
  poses: Poses;
  reading: Reading;
  refusal: string | null;
  fields: RefObject<(HTMLInputElement | null)[]>;
  onCommit: () => void;
  onChoose: (id: string) => void;
};

export function SentenceBar({ exercise, poses, reading, refusal, fields, onCommit, onChoose }: Props) {
  const { sentence, change } = useBench();
  const item = exercise.objects.find((object) => object.id === sentence.object);
  return (
    <section aria-label="Step sentence" className="border-t border-hairline bg-sheet px-4 pt-2.5 pb-2">
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1.5">
        <span className="rounded-md bg-plum-soft px-2.5 py-1.5 font-semibold text-plum">Move</span>
        <ObjectChip exercise={exercise} value={sentence.object} onChoose={onChoose} />
        <Switches
          label="By or To"
          value={sentence.mode}
          words={{ by: "By", to: "To" }}
          onChange={(mode: Mode) => change({ ...sentence, mode })}
        />
        {AXIS_INDICES.map((axis) => (
          <AxisChip
            key={axis}
            axis={axis}
            unit={exercise.conventions.length}
            now={item && sentence.mode === "to" ? coordinate(poses, item.id, axis, sentence.space) : null}
            fields={fields}
            onCommit={onCommit}
          />
        ))}
        <span className="text-ink-soft">of</span>
        <Switches
          label="Space"
          value={sentence.space}
          words={{ world: "World", local: "Local" }}
          onChange={(space: SpaceWord) => change({ ...sentence, space })}
        />
        <Button look="main" className="ml-auto" disabled={reading.kind !== "ready"} onClick={onCommit}>
          Do it <kbd className="font-sans font-normal opacity-80">↵</kbd>
        </Button>
      </div>
      <HintLine reading={reading} refusal={refusal} />
    </section>
  );
}

function coordinate(poses: Poses, id: string, axis: AxisIndex, space: SpaceWord): number {
  return space === "world" ? poses[id]!.pivot_world[axis] : 0;
}

function HintLine({ reading, refusal }: { reading: Reading; refusal: string | null }) {
  const warning = useBench((state) => state.warning);
  const dragging = useBench((state) => state.drag !== null);
  const trouble = refusal ?? warning;
  const hint = reading.kind === "ready" ? reading.words : reading.why;
  return (
    <p
      role="status"
      className={`mt-1.5 min-h-5 text-sm ${trouble ? "font-semibold text-fail" : "text-ink-soft"}`}
    >
      {trouble ?? (dragging ? "Let go to do the step, Shift keeps to the ticks, Esc gives up." : hint)}
    </p>
  );
}

type SwitchesProps<T extends string> = {
  label: string;
  value: T;
  words: Record<T, string>;
  onChange: (value: T) => void;
};

function Switches<T extends string>({ label, value, words, onChange }: SwitchesProps<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(next) => next && onChange(next as T)}
      className="inline-flex rounded-md border border-edge"
    >
      {(Object.keys(words) as T[]).map((word) => (
        <ToggleGroup.Item
          key={word}
          value={word}
          className="h-8 px-2.5 first:rounded-l-md last:rounded-r-md hover:bg-well data-[state=on]:bg-plum-soft data-[state=on]:font-semibold data-[state=on]:text-plum"
        >
          {words[word]}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}

type AxisProps = {
  axis: AxisIndex;
  unit: string;
  now: number | null;
  fields: Props["fields"];
  onCommit: () => void;
};

/** An axis switch with its amount beside it; the lit one is underlined: a typed number goes there. */
function AxisChip({ axis, unit, now, fields, onCommit }: AxisProps) {
  const { sentence, drag, change } = useBench();
  const on = sentence.axes[axis];
  const lit = sentence.lit === axis;
  const name = AXIS_NAMES[axis];
  const dragged = drag?.axes.includes(axis) ? short(drag.amounts[axis]) : null;
  const onKey = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "Enter") onCommit();
    if (event.key === "Escape") change(withAmount(sentence, axis, ""));
  };
  useEffect(() => {
    if (!on && document.activeElement === fields.current[axis]) fields.current[axis]?.blur();
  }, [on, axis, fields]);
  return (
    <span
      data-lit={lit}
      className={`inline-flex h-9 items-center rounded-md border border-edge has-[input:focus]:outline-2 has-[input:focus]:outline-offset-2 has-[input:focus]:outline-plum ${lit ? "border-b-[3px] border-b-current" : ""} ${AXIS_TEXT[axis]}`}
    >
      <button
        type="button"
        aria-pressed={on}
        aria-label={`Axis ${name}`}
        onClick={() => change(withAxisSwitched(sentence, axis))}
        className={`h-full w-8 rounded-l-md font-mono font-bold hover:bg-well ${on ? "bg-well" : "text-ink-soft"}`}
      >
        {name}
      </button>
      {on && (
        <span className="flex items-center pr-2 text-ink">
          <input
            ref={(field) => {
              fields.current[axis] = field;
            }}
            aria-label={`Amount along ${name}`}
            inputMode="decimal"
            autoComplete="off"
            value={dragged ?? sentence.amounts[axis]}
            placeholder={now === null ? "0" : short(now)}
            onFocus={() => change({ ...sentence, lit: axis })}
            onChange={(event) => change(withAmount({ ...sentence, lit: axis }, axis, event.target.value))}
            onKeyDown={onKey}
            className="h-7 w-20 bg-transparent px-1 outline-none text-right font-mono placeholder:text-ink-soft"
          />
          <span className="text-sm text-ink-soft">{unit}</span>
        </span>
      )}
    </span>
  );
}

type ObjectChipProps = { exercise: Exercise; value: string | null; onChoose: (id: string) => void };

function ObjectChip({ exercise, value, onChoose }: ObjectChipProps): ReactNode {
  return (
    <Select.Root value={value ?? ""} onValueChange={onChoose}>
      <Select.Trigger
        aria-label="Object"
        className="inline-flex h-8 min-w-40 items-center justify-between gap-2 rounded-md border border-edge px-2.5 hover:bg-well"
      >
        <Select.Value placeholder="Choose an object" />
        <ChevronUp size={14} aria-hidden />
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          side="top"
          sideOffset={4}
          className="z-50 max-h-96 overflow-y-auto rounded-md border border-hairline bg-sheet p-1 shadow-lg"
        >
          <Select.Viewport>
            {exercise.objects.map((item) => (
              <Select.Item
                key={item.id}
                value={item.id}
                className="flex cursor-pointer items-center gap-2 rounded-sm px-2 py-1 outline-none data-highlighted:bg-plum-soft"
              >
                <span className="w-4">
                  <Select.ItemIndicator>
                    <Check size={14} aria-hidden />
                  </Select.ItemIndicator>
                </span>
                <Select.ItemText>{item.name}</Select.ItemText>
                {item.locked && <Lock size={12} className="ml-auto text-ink-soft" aria-label="locked" />}
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}
