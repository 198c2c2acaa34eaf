// The card of the whole exercise: title, brief, conventions and rules.
import { useId, useState } from "react";
import Markdown from "react-markdown";
import type { Card } from "../api/types";
import { Switches } from "../ui/chips";
import { ANGLES, LENGTHS, ORDERS } from "../ui/conventions";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { Field, ListField, same, TextField } from "../ui/fields";
import { short } from "../ui/numbers";
import { Button, Tick } from "../ui/parts";
import { TypedNumber } from "../ui/TypedNumber";
import { SIDE_WORDS, type Side } from "../view3d/elevations";
import { PlotFields } from "./PlotFields";
import type { PlanControl } from "./usePlan";

type Conventions = Card["conventions"];
type Props = { card: Card; put: PlanControl["put"] };
type SceneProps = Props & { onConvert: (conventions: Conventions, keep: "picture" | "numbers") => void };

const TOLD = [
  { value: "cause", text: "each check, the cause and the reference" },
  { value: "hint", text: "each check and a hint" },
  { value: "check", text: "each check" },
  { value: "nothing", text: "points only" },
];
const SHOWN = [
  { value: "shown", text: "shown while working" },
  { value: "hidden", text: "hidden until submitted" },
];

export function SceneCard({ card, put, onConvert }: SceneProps) {
  const { conventions, rules } = card;
  const [wanted, setWanted] = useState<Conventions | null>(null);
  const convert = (keep: "picture" | "numbers") => {
    if (wanted) onConvert(wanted, keep);
    setWanted(null);
  };
  const pass = useId();
  return (
    <div>
      <TextField label="Title" value={card.title} most={200} onChange={(title) => put("title", title)} />
      <BriefField card={card} put={put} />
      <div className="grid grid-cols-2 gap-x-2">
        <ConventionFields conventions={conventions} onChange={setWanted} />
        <Field label="Pass mark (%)">
          <TypedNumber
            id={pass}
            label="Pass mark (%)"
            shown={short(card.pass_mark * 100)}
            bounds={{ least: 0, most: 100 }}
            onTake={(value) => put("pass_mark", value / 100)}
            className="h-8 w-full rounded-md border border-edge bg-sheet px-2 font-mono"
          />
        </Field>
      </div>
      <PlotFields card={card} onBase={(base) => put("base", base)} />
      <ListField
        label="Feedback"
        value={rules.told}
        options={TOLD}
        onChange={(told) => put("rules", { ...rules, told: told as "cause" })}
      />
      <ListField
        label="The gap card is"
        value={rules.gaps}
        options={SHOWN}
        onChange={(gaps) => put("rules", { ...rules, gaps: gaps as "shown" })}
      />
      <ListField
        label="The target outline is"
        value={rules.outline}
        options={SHOWN}
        onChange={(outline) => put("rules", { ...rules, outline: outline as "shown" })}
      />
      <ViewsField views={rules.views ?? VIEWS} onChange={(views) => put("rules", { ...rules, views })} />
      <ListField
        label="Measuring is"
        value={rules.measure}
        options={[
          { value: "shown", text: "possible" },
          { value: "hidden", text: "switched off" },
        ]}
        onChange={(measure) => put("rules", { ...rules, measure: measure as "shown" })}
      />
      <TextField
        label="Notes (never published)"
        value={card.notes}
        most={50_000}
        lines={3}
        onChange={(notes) => put("notes", notes)}
      />
      <Dialog
        open={wanted !== null}
        onClose={() => setWanted(null)}
        title="Change conventions"
        text="Keep the picture: all numbers are converted, and the scene looks the same. Keep the numbers: each number stays, and the scene changes. The brief stays as it is."
      >
        <DialogButtons>
          <Button onClick={() => setWanted(null)}>Cancel</Button>
          <Button onClick={() => convert("numbers")}>Keep the numbers</Button>
          <Button look="main" onClick={() => convert("picture")}>
            Keep the picture
          </Button>
        </DialogButtons>
      </Dialog>
    </div>
  );
}

const VIEWS: readonly Side[] = ["free", "front", "side", "top"];

/** The views that a student has: all, or some, at least one; the first one is the largest. */
function ViewsField({
  views,
  onChange,
}: {
  views: readonly Side[];
  onChange: (views: Side[] | null) => void;
}) {
  const put = (side: Side, on: boolean) => {
    const next = VIEWS.filter((each) => (each === side ? on : views.includes(each)));
    if (next.length > 0) onChange(next.length === VIEWS.length ? null : next);
  };
  return (
    <Field label="Views for students">
      <div className="flex flex-wrap gap-x-3">
        {VIEWS.map((side) => (
          <Tick
            key={side}
            id={`view ${side}`}
            text={SIDE_WORDS[side]}
            on={views.includes(side)}
            onChange={(on) => put(side, on)}
          />
        ))}
      </div>
    </Field>
  );
}

type FieldsProps = { conventions: Conventions; onChange: (conventions: Conventions) => void };

function ConventionFields({ conventions, onChange }: FieldsProps) {
  const set = (part: object) => onChange({ ...conventions, ...part } as Conventions);
  return (
    <>
      <ListField
        label="Up axis"
        value={conventions.up}
        options={[
          { value: "y", text: "Y" },
          { value: "z", text: "Z" },
        ]}
        onChange={(up) => set({ up })}
      />
      <ListField
        label="Handedness"
        value={conventions.handedness}
        options={same(["right", "left"])}
        onChange={(handedness) => set({ handedness })}
      />
      <ListField
        label="Lengths in"
        value={conventions.length}
        options={same(LENGTHS)}
        onChange={(length) => set({ length })}
      />
      <ListField
        label="Angles in"
        value={conventions.angle}
        options={same(ANGLES)}
        onChange={(angle) => set({ angle })}
      />
      <ListField
        label="Order of angles"
        value={conventions.euler}
        options={same(ORDERS)}
        onChange={(euler) => set({ euler })}
      />
    </>
  );
}

function BriefField({ card, put }: Props) {
  const [mode, setMode] = useState<"write" | "read">("write");
  return (
    <div className="mb-2">
      <div className="mb-1 flex items-center">
        <span className="text-sm text-ink-soft">Brief</span>
        <span className="ml-auto">
          <Switches
            label="Show brief as"
            value={mode}
            words={{ write: "Edit", read: "Preview" }}
            onChange={setMode}
          />
        </span>
      </div>
      {mode === "write" ? (
        <>
          <textarea
            aria-label="Brief"
            value={card.brief}
            rows={5}
            maxLength={50_000}
            onChange={(event) => put("brief", event.target.value)}
            className="w-full rounded-md border border-edge bg-sheet px-2 py-1"
          />
          <p className="text-sm text-ink-soft">**bold**, *italic*, and lines that start with - for a list.</p>
        </>
      ) : (
        <div className="brief rounded-md border border-hairline p-2">
          {card.brief.trim() ? <Markdown>{card.brief}</Markdown> : <p>No brief yet.</p>}
        </div>
      )}
    </div>
  );
}
