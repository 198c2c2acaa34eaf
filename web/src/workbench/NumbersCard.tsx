// The chosen object in numbers, as the core reads it; each field typed is a step.
import { useId, useState } from "react";
import type { Exercise, Reading, SceneObject, Step } from "../api/types";
import { useBenchParts } from "../state/store";
import { radiansPer } from "../steps/setting";
import { Switches } from "../ui/chips";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { nth } from "../ui/lists";
import { short } from "../ui/numbers";
import { Button } from "../ui/parts";
import { TypedNumber } from "../ui/TypedNumber";
import {
  copied,
  type NumbersSpace,
  pasted,
  pasteSteps,
  type Quantity,
  stepFor,
  tidySteps,
  zeroSteps,
} from "./numbersSteps";

type Props = {
  item: SceneObject | undefined;
  reading: Reading | undefined;
  world_from_local: readonly number[] | undefined;
  conventions: Exercise["conventions"];
  onSteps: (steps: readonly Step[]) => void;
};

export function NumbersCard({ item, reading, world_from_local, conventions, onSteps }: Props) {
  const [space, setSpace] = useState<NumbersSpace>("world");
  const [pasting, setPasting] = useState(false);
  const { sizes, lookOnly } = useBenchParts("sizes", "lookOnly");
  if (!item || !reading || !world_from_local)
    return <p className="text-ink-soft">Select an object to see its numbers.</p>;
  const place = reading[space];
  const fixed = item.locked || lookOnly;
  const euler = conventions.euler.toUpperCase();
  const copy = (format: "json" | "csv" | "matrix") =>
    void navigator.clipboard.writeText(copied(reading, space, format, world_from_local));
  const rows: readonly (readonly [Quantity, string, readonly number[] | null, string])[] = [
    ["position", `Pivot (${conventions.length})`, place.position, "XYZ"],
    ["angles", `Angles (${conventions.angle}, ${conventions.euler})`, place.angles, euler],
    ["scale", "Scale", place.scale, "XYZ"],
    ["size", `Own size (${conventions.length})`, reading.size, "XYZ"],
  ];
  return (
    <div>
      <div className="mb-1.5 flex items-center gap-2">
        <span className="truncate font-semibold text-plum">{item.name}</span>
        <span className="ml-auto">
          <Switches
            label="Numbers in"
            value={space}
            words={{ world: "World", parent: "Parent" }}
            onChange={setSpace}
          />
        </span>
      </div>
      {rows.map(([quantity, label, values, letters]) =>
        values === null ? null : (
          <fieldset key={quantity} className="mb-1">
            <legend className="text-sm text-ink-soft">{label}</legend>
            <div className="grid grid-cols-3 gap-1">
              {values.map((value, axis) => (
                <NumberField
                  key={nth(letters, axis) + axis}
                  letter={nth(letters, axis)}
                  label={`${label}, ${letters[axis]}`}
                  value={value}
                  fixed={fixed || (quantity === "angles" && place.skewed)}
                  onTake={(next) => {
                    const step = stepFor(item.id, reading, space, quantity, axis, next);
                    if (step) onSteps([step]);
                  }}
                />
              ))}
            </div>
          </fieldset>
        ),
      )}
      {place.skewed && (
        <p className="text-sm text-near">
          ≈ Skewed: its axes are not at right angles, so its angles cannot be set.
        </p>
      )}
      <div className="mt-1.5 flex flex-wrap gap-1">
        <Small disabled={fixed} onClick={() => onSteps(tidySteps(item.id, reading, space, sizes))}>
          Reset
        </Small>
        {(["position", "angles", "scale"] as const).map((quantity) => (
          <Small
            key={quantity}
            disabled={fixed}
            onClick={() => onSteps(zeroSteps(item.id, reading, space, quantity))}
          >
            {quantity === "scale" ? "Scale 1" : `Zero ${quantity}`}
          </Small>
        ))}
        <Small onClick={() => copy("json")}>Copy JSON</Small>
        <Small onClick={() => copy("csv")}>Copy CSV</Small>
        <Small onClick={() => copy("matrix")}>Copy 16 numbers</Small>
        <Small disabled={fixed} onClick={() => setPasting(true)}>
          Paste…
        </Small>
      </div>
      {pasting && (
        <PasteDialog
          onClose={() => setPasting(false)}
          onTake={(text) => {
            const found = pasted(text);
            if ("why" in found) return found.why;
            const now = { world_from_local, radians: radiansPer(conventions) };
            const steps = pasteSteps(item, reading, space, found, now);
            if (!steps) return "No steps lead to this matrix: it is skewed, or its last row is not 0 0 0 1.";
            onSteps(steps);
            setPasting(false);
            return null;
          }}
        />
      )}
    </div>
  );
}

type FieldProps = {
  letter: string;
  label: string;
  value: number;
  fixed: boolean;
  onTake: (value: number) => void;
};

function NumberField({ letter, label, value, fixed, onTake }: FieldProps) {
  const shown = short(Number(value.toFixed(6))); // below a millionth there is only rounding
  const id = useId();
  return (
    <label
      htmlFor={id}
      className="flex flex-wrap items-center gap-x-1 rounded-md border border-hairline pl-1 has-[:focus]:border-plum"
    >
      <span className="font-mono text-sm text-ink-soft">{letter}</span>
      <TypedNumber
        id={id}
        label={label}
        shown={shown}
        disabled={fixed}
        onTake={onTake}
        className="h-6 w-full min-w-0 flex-1 bg-transparent pr-1 text-right font-mono text-sm outline-none disabled:text-ink-soft"
      />
    </label>
  );
}

function Small(props: { disabled?: boolean; onClick: () => void; children: string }) {
  return (
    <button
      type="button"
      {...props}
      className="rounded-md border border-edge px-1.5 py-0.5 text-sm hover:bg-well disabled:cursor-not-allowed disabled:opacity-50"
    />
  );
}

/** onTake: why the text cannot be taken, or `null` where it was. */
function PasteDialog({ onClose, onTake }: { onClose: () => void; onTake: (text: string) => string | null }) {
  const [text, setText] = useState("");
  const [why, setWhy] = useState<string | null>(null);
  return (
    <Dialog
      open
      onClose={onClose}
      title="Paste numbers"
      text="JSON with position, angles and scale; three, six or nine numbers in that order; or a matrix of 16 numbers, column by column, in world. They are applied as steps."
    >
      <textarea
        aria-label="Numbers"
        value={text}
        onChange={(event) => setText(event.target.value)}
        className="mt-3 h-28 w-full rounded-md border border-edge bg-paper p-2 font-mono"
      />
      {why !== null && (
        <p role="alert" className="text-fail">
          {why}
        </p>
      )}
      <DialogButtons>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" onClick={() => setWhy(onTake(text))}>
          Apply
        </Button>
      </DialogButtons>
    </Dialog>
  );
}
