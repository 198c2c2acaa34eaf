// The step sentence at the foot of the bench: a step in words, edited chip by chip.
import { Lock, Type } from "lucide-react";
import { type KeyboardEvent, type RefObject, useRef } from "react";
import type { Exercise, Reading as ObjectReading, PlaceNumbers, SceneObject, Step } from "../api/types";
import type { MoreOp, Op } from "../steps/kind";
import { begun, isMore, kindOf } from "../steps/registry";
import { PivotChip, SpaceChip } from "../steps/SpaceChips";
import { amountOf } from "../ui/amount";
import { ListChip, Switches } from "../ui/chips";
import { short } from "../ui/numbers";
import { Button, IconButton, Tick } from "../ui/parts";
import { AXIS_TEXT } from "../view3d/Ground";
import { AXIS_INDICES, AXIS_NAMES, type AxisIndex } from "../view3d/matrices";
import { MoreMenu } from "./MoreMenu";
import { depthOf, treeOf } from "./ObjectList";
import { SizesRow } from "./SizesRow";
import {
  letterOf,
  type Mode,
  type Operation,
  type Reading,
  takesOneAmount,
  takesPivot,
  takesSpace,
  typedAxes,
  withAmount,
  withAxisSwitched,
  withMode,
  withOperation,
  withoutAmounts,
} from "./sentence";
import { dragOf, useBench, useBenchParts } from "./store";
import { type AskSaid, TextLine } from "./TextLine";

type Props = {
  conventions: Exercise["conventions"];
  objects: readonly SceneObject[];
  readings: Readonly<Record<string, ObjectReading>>;
  reading: Reading;
  refusal: string | null;
  fields: RefObject<(HTMLInputElement | null)[]>;
  onCommit: () => void;
  onNudge: (way: 1 | -1) => void;
  onChoose: (ids: readonly string[]) => void;
  /** The kinds of step that the exercise offers. */
  kinds: readonly string[];
  onSay: AskSaid;
  onStep: (step: Step) => void;
};

const SHOWN_RECENT = 3;
const OPERATIONS = { move: "Move", rotate: "Rotate", scale: "Scale" };

export function SentenceBar(props: Props) {
  const { conventions, reading, onCommit } = props;
  const { sentence, more, asText, set } = useBenchParts("sentence", "more", "asText", "set");
  const asTextButton = useRef<HTMLButtonElement>(null);
  return (
    <section
      aria-label="Step sentence"
      className="col-span-3 border-t border-hairline bg-sheet px-4 pt-2 pb-1.5 cramped:order-2 cramped:shrink-0"
    >
      <div className="flex flex-wrap items-center gap-x-1.5 gap-y-1.5">
        <OperationChip {...props} />
        {(!more || kindOf(more.op).acts !== "none") && <ObjectChip {...props} chosen={sentence.objects} />}
        {more ? <MoreChips {...props} /> : <AxisChips {...props} />}
        <span className="ml-auto flex items-center gap-1">
          <IconButton
            ref={asTextButton}
            label="Type the sentence"
            keys="/"
            aria-expanded={asText}
            onClick={() => set({ asText: !asText })}
          >
            <Type size={16} aria-hidden />
          </IconButton>
          <Button look="main" disabled={reading.kind !== "ready"} onClick={onCommit}>
            Do it <kbd className="font-sans font-normal opacity-80">↵</kbd>
          </Button>
        </span>
      </div>
      {asText && (
        <TextLine
          ask={props.onSay}
          onClose={() => {
            set({ asText: false, said: null });
            asTextButton.current?.focus();
          }}
          onStep={props.onStep}
          reading={reading}
        />
      )}
      <div className="mt-1 flex flex-wrap items-center gap-x-4">
        <HintLine reading={reading} refusal={props.refusal} />
        {!more && <SizesRow conventions={conventions} onNudge={props.onNudge} />}
      </div>
    </section>
  );
}

/** Move, rotate, scale; behind them the last kinds used, and all others under More. */
function OperationChip({ objects, conventions, kinds }: Props) {
  const { sentence, change, more, recent, set } = useBenchParts(
    "sentence",
    "change",
    "more",
    "recent",
    "set",
  );
  const begin = (op: MoreOp) =>
    set({ more: begun(op, { objects, chosen: sentence.objects, conventions }), quiet: false });
  const offered = Object.fromEntries(Object.entries(OPERATIONS).filter(([op]) => kinds.includes(op)));
  const shown = more && !recent.includes(more.op) ? [more.op, ...recent].slice(0, SHOWN_RECENT) : recent;
  const words = { ...offered, ...Object.fromEntries(shown.map((op) => [op, kindOf(op).name])) };
  return (
    <>
      <Switches
        label="Operation"
        value={more?.op ?? sentence.op}
        words={words as Partial<Record<Op, string>>}
        onChange={(next: Op) => {
          if (isMore(next)) return begin(next);
          set({ more: null });
          change(withOperation(sentence, next));
        }}
      />
      <MoreMenu kinds={kinds} onBegin={begin} />
    </>
  );
}

/** The chips of a kind under More. */
function MoreChips({ objects, conventions, onCommit }: Props) {
  const { sentence, more, set } = useBenchParts("sentence", "more", "set");
  if (!more) return null;
  const { Chips } = kindOf(more.op);
  const onKey = (event: KeyboardEvent) => {
    if (!(event.target instanceof HTMLInputElement)) return;
    if (event.key === "Enter" && !event.repeat) onCommit();
    if (event.key === "Escape") event.target.blur(); // out of the field, where keys are the bench's again
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Enter and Escape in the fields that stand in it
    <div className="contents" onKeyDown={onKey}>
      <Chips
        key={more.turn}
        values={more.values}
        change={(part) => {
          const now = useBench.getState().more;
          if (now) set({ more: { ...now, values: { ...now.values, ...part } }, quiet: false });
        }}
        context={{ objects, chosen: sentence.objects, conventions }}
      />
    </div>
  );
}

/** The chips of move, rotate and scale: by or to, an amount an axis, the space and the pivot. */
function AxisChips({ conventions, objects, readings, fields, onCommit }: Props) {
  const { sentence, change } = useBenchParts("sentence", "change");
  const { op, mode } = sentence;
  const primary = sentence.objects.at(-1);
  const now = mode === "to" && primary ? shownNow(readings[primary], sentence) : null;
  return (
    <>
      <Switches
        label="By or To"
        value={mode}
        words={{ by: "By", to: "To" }}
        onChange={(next: Mode) => change(withMode(sentence, next))}
      />
      {AXIS_INDICES.map((axis) => (
        <AxisChip
          key={axis}
          axis={axis}
          unit={unitOf(sentence, conventions)}
          letter={letterOf(sentence, axis, conventions)}
          field={typedAxes(sentence).includes(axis)}
          now={now?.[axis] ?? null}
          fields={fields}
          onCommit={onCommit}
        />
      ))}
      {op === "scale" && <ScaleSwitches />}
      {takesSpace(sentence) && (
        <>
          <span className="text-ink-soft">of</span>
          <SpaceChip
            objects={objects}
            value={sentence.space}
            onlySet={op === "rotate" && mode === "to"}
            onChange={(space) => change({ ...sentence, space })}
          />
        </>
      )}
      {takesPivot(sentence) && (
        <>
          <span className="text-ink-soft">{op === "rotate" ? "through" : "holding"}</span>
          <PivotChip
            objects={objects}
            on={primary}
            value={sentence.pivot}
            onChange={(pivot) => change({ ...sentence, pivot })}
          />
        </>
      )}
    </>
  );
}

/** What the chosen object reads now in the space that a To goes to; `null` where that is not told. */
function shownNow(reading: ObjectReading | undefined, { op, space }: { op: Operation; space: unknown }) {
  if (!reading) return null;
  if (op === "scale") return reading.size;
  const place: PlaceNumbers | null =
    space === "world" ? reading.world : space === "parent" ? reading.parent : null;
  if (op === "rotate") return (place ?? reading.world).angles;
  return place?.position ?? null;
}

function unitOf({ op, mode }: { op: Operation; mode: Mode }, conventions: Exercise["conventions"]): string {
  if (op === "rotate") return conventions.angle === "deg" ? "°" : conventions.angle;
  if (op === "scale" && mode === "by") return "×";
  return conventions.length;
}

const PICK_WORDS = {
  point:
    "Pick a dot with the pointer, or by Tab and Enter; a click on another solid, or N, shows its dots. Esc gives up.",
  edge: "Pick a dot on the solid with the pointer, or by Tab and Enter. Esc gives up.",
  contact: "Point at a surface and click it. Esc gives up.",
};

function HintLine({ reading, refusal }: { reading: Reading; refusal: string | null }) {
  const warning = useBench((state) => state.warning);
  const dragging = useBench((state) => dragOf(state) !== null);
  const looking = useBench((state) => state.looking);
  const picking = useBench((state) => (state.pointer.kind === "picking" ? state.pointer.what : null));
  const notice = useBench((state) => state.notice);
  const trouble = refusal ?? warning;
  const asText = useBench((state) => state.asText); // the line of text says itself how it reads
  const hint = asText ? "" : reading.kind === "ready" ? reading.words : reading.why;
  const words =
    trouble ??
    (dragging
      ? "Let go to do the step. Shift keeps to the snap size, Esc gives up."
      : picking
        ? PICK_WORDS[picking]
        : looking !== null
          ? "You are looking at an earlier step; go back to the newest to work on."
          : (notice ?? hint));
  return (
    <p
      role="status"
      className={`min-h-5 min-w-48 flex-1 text-sm ${trouble ? "font-semibold text-fail" : "text-ink-soft"}`}
    >
      {words}
    </p>
  );
}

function ScaleSwitches() {
  const { sentence, change } = useBenchParts("sentence", "change");
  return (
    <span className="flex items-center gap-3">
      <Tick
        id="uniform"
        text="uniform"
        on={sentence.uniform}
        onChange={(uniform) => change({ ...sentence, uniform, keepVolume: false })}
      />
      {sentence.mode === "by" && (
        <Tick
          id="keep-volume"
          text="keep volume"
          on={sentence.keepVolume}
          onChange={(keepVolume) => change({ ...sentence, keepVolume, uniform: false })}
        />
      )}
    </span>
  );
}

type AxisProps = {
  axis: AxisIndex;
  letter: string;
  unit: string;
  field: boolean;
  now: number | null;
  fields: Props["fields"];
  onCommit: () => void;
};

/** An axis switch with its amount beside it; the lit one is underlined: a typed number goes there. */
function AxisChip({ axis, letter, unit, field, now, fields, onCommit }: AxisProps) {
  const { sentence, change } = useBenchParts("sentence", "change");
  const axisSwitch = useRef<HTMLButtonElement>(null);
  const lit = sentence.lit === axis;
  const name = AXIS_NAMES[axis];
  const on = takesOneAmount(sentence) ? (sentence.uniform && sentence.mode === "by") || lit : field;
  const onKey = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "Enter" && !event.repeat) onCommit();
    if (event.key !== "Escape") return;
    change(withoutAmounts(sentence));
    axisSwitch.current?.focus(); // out of the field, where keys are the bench's again
  };
  return (
    <span
      data-lit={lit}
      className={`inline-flex h-8 items-center rounded-md border border-edge has-[input:focus]:outline-2 has-[input:focus]:outline-offset-2 has-[input:focus]:outline-plum ${lit ? "border-b-[3px] border-b-current" : ""} ${AXIS_TEXT[axis]}`}
    >
      <button
        ref={axisSwitch}
        type="button"
        aria-pressed={on}
        aria-label={`Axis ${name}`}
        onClick={() => change(withAxisSwitched(sentence, axis))}
        className={`h-full w-8 rounded-l-md font-mono font-bold hover:bg-well ${on ? "bg-well" : "text-ink-soft"}`}
      >
        {letter}
      </button>
      {field && (
        <span className="flex items-center pr-2 text-ink">
          <input
            ref={(input) => {
              fields.current[axis] = input;
            }}
            aria-label={`Amount along ${name}`}
            inputMode="decimal"
            autoComplete="off"
            aria-invalid={sentence.amounts[axis].trim() !== "" && amountOf(sentence.amounts[axis]) === null}
            value={sentence.amounts[axis]}
            placeholder={now === null ? "" : short(now)}
            onFocus={() => change({ ...sentence, lit: axis })}
            onChange={(event) => change(withAmount({ ...sentence, lit: axis }, axis, event.target.value))}
            onKeyDown={onKey}
            className="h-7 w-16 bg-transparent px-1 text-right font-mono outline-none placeholder:text-ink-soft aria-invalid:text-fail"
          />
          <span className="text-sm text-ink-soft">{unit}</span>
        </span>
      )}
    </span>
  );
}

function ObjectChip({ objects, chosen, onChoose }: Props & { chosen: readonly string[] }) {
  const names = chosen.flatMap((id) => objects.find((item) => item.id === id)?.name ?? []);
  const shown = names.length > 1 ? `${names.length} objects` : (names[0] ?? "Choose an object");
  return (
    <ListChip
      label="Object"
      value={chosen.length === 1 ? chosen[0]! : ""}
      shown={shown}
      options={treeOf(objects).map((item) => ({
        value: item.id,
        text: item.name,
        indent: depthOf(item, objects),
        mark: item.locked && <Lock size={12} className="ml-auto text-ink-soft" aria-label="locked" />,
      }))}
      onChange={(id) => onChoose([id])}
      className="min-w-24"
    />
  );
}
