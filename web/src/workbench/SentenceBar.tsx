// The step sentence at the foot of the bench: a step in words, edited chip by chip.
import { Lock, Type } from "lucide-react";
import { type KeyboardEvent, type RefObject, useRef } from "react";
import type { Exercise, Reading as ObjectReading, SceneObject, Step } from "../api/types";
import type { Op } from "../state/sentence";
import { type Mode, type Reading, withAmount, withoutAmounts } from "../state/sentence";
import { changeSentence, dragOf, setBench, useBench, useBenchParts } from "../state/store";
import { axisKindOf } from "../steps/axisKinds";
import { letterOf, typedAxes, withAxisSwitched, withMode } from "../steps/axisSentence";
import { AXIS_OPS, kindOf } from "../steps/registry";
import { PivotChip, SpaceChip } from "../steps/SpaceChips";
import { amountOf } from "../ui/amount";
import { Switches } from "../ui/chips";
import { isPlainEnter } from "../ui/focus";
import { nth } from "../ui/lists";
import { short } from "../ui/numbers";
import { Button, IconButton } from "../ui/parts";
import { Select } from "../ui/Select";
import { AXIS_TEXT } from "../view3d/Ground";
import { AXIS_INDICES, AXIS_NAMES, type AxisIndex } from "../view3d/matrices";
import { MoreMenu } from "./MoreMenu";
import { depthOf, treeOf } from "./ObjectList";
import { SizesRow } from "./SizesRow";
import { type AskSaid, TextLine } from "./TextLine";
import { useMore } from "./useMore";

type Props = {
  conventions: Exercise["conventions"];
  objects: readonly SceneObject[];
  readings: Readonly<Record<string, ObjectReading>>;
  reading: Reading;
  refusal: string | null;
  fields: RefObject<(HTMLInputElement | null)[]>;
  onCommit: () => void;
  onNudge: (way: 1 | -1) => void;
  onBegin: (op: Op) => void;
  onChoose: (ids: readonly string[]) => void;
  /** The kinds of step that the exercise offers. */
  kinds: readonly string[];
  onSay: AskSaid;
  onStep: (step: Step) => void;
};

const SHOWN_RECENT = 3;

export function SentenceBar(props: Props) {
  const { conventions, reading, onCommit } = props;
  const { sentence, more, asText } = useBenchParts("sentence", "more", "asText");
  const asTextButton = useRef<HTMLButtonElement>(null);
  return (
    <section
      aria-label="Step sentence"
      className="col-span-3 border-t border-hairline bg-sheet px-4 pt-2 pb-1.5 cramped:order-2 cramped:shrink-0"
    >
      <div className="flex items-end gap-1.5">
        <div className="flex min-w-0 flex-1 flex-wrap items-center gap-1.5">
          <OperationChip {...props} />
          {(!more || kindOf(more.op).acts !== "none") && <ObjectChip {...props} chosen={sentence.objects} />}
          {more ? <MoreChips {...props} /> : <AxisChips {...props} />}
        </div>
        <span className="flex shrink-0 items-center gap-1">
          <IconButton
            ref={asTextButton}
            label="Type the step as text"
            keys="/"
            aria-expanded={asText}
            onClick={() => setBench({ asText: !asText })}
          >
            <Type size={16} aria-hidden />
          </IconButton>
          <Button look="main" disabled={reading.kind !== "ready"} onClick={onCommit}>
            Apply <kbd className="font-sans font-normal opacity-80">↵</kbd>
          </Button>
        </span>
      </div>
      {asText && (
        <TextLine
          ask={props.onSay}
          onClose={() => {
            setBench({ asText: false, said: null });
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
function OperationChip({ kinds, onBegin }: Props) {
  const { sentence, more, recent } = useBenchParts("sentence", "more", "recent");
  const offered = AXIS_OPS.filter((op) => kinds.includes(op)).map((op) => [op, axisKindOf(op).name]);
  const shown = more && !recent.includes(more.op) ? [more.op, ...recent].slice(0, SHOWN_RECENT) : recent;
  const words = Object.fromEntries([...offered, ...shown.map((op) => [op, kindOf(op).name])]);
  return (
    <>
      <Switches
        label="Operation"
        value={more?.op ?? sentence.op}
        words={words as Partial<Record<Op, string>>}
        onChange={onBegin}
      />
      <MoreMenu kinds={kinds} onBegin={onBegin} />
    </>
  );
}

/** The chips of a kind under More. */
function MoreChips({ objects, conventions, onCommit }: Props) {
  const now = useMore({ objects, conventions });
  if (!now) return null;
  const { Chips } = kindOf(now.more.op);
  const onKey = (event: KeyboardEvent) => {
    if (!(event.target instanceof HTMLInputElement)) return;
    if (isPlainEnter(event)) onCommit();
    if (event.key === "Escape") event.target.blur(); // out of the field, where keys are the bench's again
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Enter and Escape in the fields that stand in it
    <div className="contents" onKeyDown={onKey}>
      <Chips key={now.more.turn} {...now.props} />
    </div>
  );
}

/** The chips of move, rotate and scale: by or to, an amount an axis, the space and the pivot. */
function AxisChips({ conventions, objects, readings, fields, onCommit }: Props) {
  const { sentence } = useBenchParts("sentence");
  const { op, mode, space } = sentence;
  const kind = axisKindOf(op);
  const primary = sentence.objects.at(-1);
  const reading = primary === undefined ? undefined : readings[primary];
  const now = mode === "to" && reading ? kind.now(reading, space) : null;
  const pivotWord = kind.pivotWord(mode);
  return (
    <>
      <Switches
        label="By or To"
        value={mode}
        words={{ by: "By", to: "To" }}
        onChange={(next: Mode) => changeSentence(withMode(sentence, next))}
      />
      {AXIS_INDICES.map((axis) => (
        <AxisChip
          key={axis}
          axis={axis}
          unit={kind.unit(mode, conventions).trim()}
          letter={letterOf(sentence, axis, conventions)}
          field={typedAxes(sentence).includes(axis)}
          now={now?.[axis] ?? null}
          fields={fields}
          onCommit={onCommit}
        />
      ))}
      {kind.spaces(mode) !== "none" && (
        <>
          <span className="text-ink-soft">of</span>
          <SpaceChip
            objects={objects}
            value={space}
            onlySet={kind.spaces(mode) === "set"}
            onChange={(next) => changeSentence({ ...sentence, space: next })}
          />
        </>
      )}
      {pivotWord !== null && (
        <>
          <span className="text-ink-soft">{pivotWord}</span>
          <PivotChip
            objects={objects}
            on={primary}
            value={sentence.pivot}
            onChange={(pivot) => changeSentence({ ...sentence, pivot })}
          />
        </>
      )}
      {kind.Extras && <kind.Extras objects={objects} />}
    </>
  );
}

const PICK_WORDS = {
  point: "Click a dot, or use Tab and Enter. Click another solid, or press N, to show its dots. Esc cancels.",
  edge: "Click a dot on the solid, or use Tab and Enter. Esc cancels.",
  contact: "Click a surface. Esc cancels.",
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
      ? "Release to apply the step. Shift snaps, Esc cancels."
      : picking
        ? PICK_WORDS[picking]
        : looking !== null
          ? "You are viewing an earlier step. Go to the latest step to continue."
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
  const { sentence } = useBenchParts("sentence");
  const axisSwitch = useRef<HTMLButtonElement>(null);
  const lit = sentence.lit === axis;
  const name = AXIS_NAMES[axis];
  const on = axisKindOf(sentence.op).takesOne(sentence)
    ? (sentence.uniform && sentence.mode === "by") || lit
    : field;
  const onKey = (event: KeyboardEvent<HTMLInputElement>) => {
    if (isPlainEnter(event)) onCommit();
    if (event.key !== "Escape") return;
    changeSentence(withoutAmounts(sentence));
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
        onClick={() => changeSentence(withAxisSwitched(sentence, axis))}
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
            onFocus={() => changeSentence({ ...sentence, lit: axis })}
            onChange={(event) =>
              changeSentence(withAmount({ ...sentence, lit: axis }, axis, event.target.value))
            }
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
  const shown = names.length > 1 ? `${names.length} objects` : (names[0] ?? "Select an object");
  return (
    <Select
      label="Object"
      value={chosen.length === 1 ? nth(chosen, 0) : ""}
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
