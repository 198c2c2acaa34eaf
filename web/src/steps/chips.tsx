// The few chips that sentences of all kinds share.
import { type ReactNode, useId, useState } from "react";
import type { Box, Point, SceneObject } from "../api/types";
import { setBench } from "../state/store";
import { readAmount } from "../ui/amount";
import { Switches } from "../ui/chips";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { nth } from "../ui/lists";
import { short } from "../ui/numbers";
import { Button } from "../ui/parts";
import { Select } from "../ui/Select";
import type { Vec3 } from "../view3d/matrices";
import { pointWords } from "./features";
import { type ObjectPoint, PointFields } from "./PointFields";

export function Word({ children }: { children: ReactNode }) {
  return <span className="text-ink-soft">{children}</span>;
}

type ObjectProps = {
  label: string;
  objects: readonly SceneObject[];
  value: string | null | undefined;
  onChange: (id: string) => void;
  /** Other things than objects that can be chosen here, by what stands for each. */
  also?: Readonly<Record<string, string>>;
};

/** One object. */
export function ObjectChip({ label, objects, value, onChange, also = {} }: ObjectProps) {
  const options = [
    ...Object.entries(also).map(([word, text]) => ({ value: word, text })),
    ...objects.map((item) => ({ value: item.id, text: item.name })),
  ];
  return <Select label={label} value={value ?? ""} options={options} onChange={onChange} />;
}

type AmountProps = {
  label: string;
  unit: string;
  value: number | null | undefined;
  onChange: (value: number | undefined) => void;
};

/** A number with its unit; what cannot be read is marked and gives no number. */
export function AmountChip({ label, unit, value, onChange }: AmountProps) {
  const [text, setText] = useState(value == null ? "" : short(value));
  const read = readAmount(text);
  const wrong = text.trim() !== "" && "why" in read;
  return (
    <span className="inline-flex h-8 items-center rounded-md border border-edge pr-2 has-[input:focus]:outline-2 has-[input:focus]:outline-offset-2 has-[input:focus]:outline-plum">
      <input
        aria-label={label}
        aria-invalid={wrong}
        inputMode="decimal"
        autoComplete="off"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          const next = readAmount(event.target.value);
          onChange("value" in next ? next.value : undefined);
        }}
        className="h-7 w-16 bg-transparent px-1 text-right font-mono outline-none aria-invalid:text-fail"
      />
      <span className="text-sm text-ink-soft">{unit}</span>
    </span>
  );
}

type TextProps = { label: string; value: string; onChange: (text: string) => void };

export function TextChip({ label, value, onChange }: TextProps) {
  return (
    <input
      aria-label={label}
      placeholder={label}
      maxLength={200}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className="h-8 w-44 rounded-md border border-edge bg-sheet px-2"
    />
  );
}

const LETTERS = { x: "X", y: "Y", z: "Z" } as const;
export type Letter = keyof typeof LETTERS;

type LetterProps = { label: string; value: Letter | null; onChange: (axis: Letter) => void };

export function LetterChip({ label, value, onChange }: LetterProps) {
  return <Switches label={label} value={value ?? ("" as Letter)} words={LETTERS} onChange={onChange} />;
}

const SIGNED = { "+x": "+X", "-x": "−X", "+y": "+Y", "-y": "−Y", "+z": "+Z", "-z": "−Z" } as const;
export type SignedAxis = keyof typeof SIGNED;

type SignedProps = {
  label: string;
  value: SignedAxis | null | undefined;
  onChange: (axis: SignedAxis | null) => void;
  /** What it says where no axis is chosen, if that can be. */
  none?: string;
};

export function SignedAxisChip({ label, value, onChange, none }: SignedProps) {
  const options = Object.entries(SIGNED).map(([axis, text]) => ({ value: axis, text }));
  return (
    <Select
      label={label}
      value={value ?? (none ? "none" : "")}
      options={none ? [{ value: "none", text: none }, ...options] : options}
      onChange={(axis) => onChange(axis === "none" ? null : (axis as SignedAxis))}
    />
  );
}

type PointProps = {
  label: string;
  objects: readonly SceneObject[];
  value: Point | undefined;
  onChange: (point: Point) => void;
  /** The object that a point is looked for on first. */
  on?: string | undefined;
  /** What stands where no point is chosen, if that can be, and what choosing it does. */
  none?: { text: string; take: () => void };
};

/** A point: a place on an object, picked in the view or chosen from lists, or three numbers in world. */
export function PointChip({ label, objects, value, onChange, on, none }: PointProps) {
  const [asking, setAsking] = useState(false);

  const shown = value === undefined ? (none?.text ?? `${label}…`) : pointWords(value, objects);
  const first = on ?? objects.find((item) => item.local_box)?.id ?? objects[0]?.id ?? "";
  const pick = () =>
    setBench({ pointer: { kind: "picking", what: "point", on: first, back: label, take: onChange } });
  return (
    <>
      <Select
        label={label}
        value="now"
        shown={shown}
        options={[
          { value: "now", text: shown },
          ...(none && value !== undefined ? [{ value: "none", text: none.text }] : []),
          { value: "pick", text: "Pick a dot in the view" },
          { value: "ask", text: "A place on an object, or numbers…" },
        ]}
        onChange={(way) => {
          if (way === "pick") pick();
          if (way === "ask") setAsking(true);
          if (way === "none") none?.take();
        }}
      />
      {asking && (
        <PointDialog
          title={label}
          objects={objects}
          first={value ?? { object: first, at: "centre" }}
          onClose={() => setAsking(false)}
          onTake={(point) => {
            onChange(point);
            setAsking(false);
          }}
        />
      )}
    </>
  );
}

type DialogProps = {
  title: string;
  objects: readonly SceneObject[];
  first: Point;
  onClose: () => void;
  onTake: (point: Point) => void;
};

export function PointDialog({ title, objects, first, onClose, onTake }: DialogProps) {
  const [way, setWay] = useState<"place" | "numbers">("object" in first ? "place" : "numbers");
  const [place, setPlace] = useState<ObjectPoint>(
    "object" in first ? first : { object: objects[0]?.id ?? "", at: "centre" },
  );
  const [numbers, setNumbers] = useState<Vec3 | null>("object" in first ? [0, 0, 0] : first);
  return (
    <Dialog
      open
      onClose={onClose}
      title={title}
      text="A face, an edge middle or a corner of a box, or numbers."
    >
      <div className="mt-3">
        <Switches
          label="How"
          value={way}
          words={{ place: "A place on an object", numbers: "Numbers in World" }}
          onChange={setWay}
        />
      </div>
      {way === "place" ? (
        <PointFields label="Point" objects={objects} value={place} onChange={setPlace} />
      ) : (
        <div className="mt-3">
          <VectorChip
            label="Point"
            value={numbers ?? undefined}
            onChange={(next) => setNumbers(next ?? null)}
          />
        </div>
      )}
      <DialogButtons>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          look="main"
          disabled={way === "numbers" && numbers === null}
          onClick={() => onTake(way === "place" ? place : [...numbers!])}
        >
          Use this point
        </Button>
      </DialogButtons>
    </Dialog>
  );
}

type VectorProps = {
  label: string;
  value: Vec3 | undefined;
  onChange: (value: [number, number, number] | undefined) => void;
};

/** Three numbers, by axis. */
export function VectorChip({ label, value, onChange }: VectorProps) {
  const id = useId();
  const [texts, setTexts] = useState(() => (value ?? [0, 0, 0]).map(short));
  const take = (next: string[]) => {
    setTexts(next);
    const read = next.map(readAmount);
    const numbers = read.flatMap((each) => ("value" in each ? [each.value] : []));
    onChange(numbers.length === 3 ? (numbers as [number, number, number]) : undefined);
  };
  return (
    <fieldset aria-label={label} className="inline-flex gap-2">
      {texts.map((text, i) => (
        <label
          key={"XYZ"[i]}
          htmlFor={id + i}
          className="inline-flex items-center gap-1.5 text-sm text-ink-soft"
        >
          {"XYZ"[i]}
          <input
            id={id + i}
            aria-label={`${label} ${"XYZ"[i]}`}
            aria-invalid={"why" in readAmount(text)}
            value={text}
            onChange={(event) => take(texts.map((old, j) => (i === j ? event.target.value : old)))}
            className="h-8 w-16 rounded-md border border-edge bg-sheet px-1 text-right font-mono text-ink aria-invalid:text-fail"
          />
        </label>
      ))}
    </fieldset>
  );
}

/** The middle of a face of a box, and which way the face looks, in the object's own coordinates. */
export function faceOf(
  { least, most }: Box,
  face: SignedAxis,
): { point: [number, number, number]; normal: [number, number, number] } {
  const axis = "xyz".indexOf(nth(face, 1));
  const sign = face[0] === "+" ? 1 : -1;
  const middle = [0, 1, 2].map((i) => (nth(least, i) + nth(most, i)) / 2);
  middle[axis] = sign > 0 ? nth(most, axis) : nth(least, axis);
  const normal = [0, 0, 0];
  normal[axis] = sign;
  return { point: middle as [number, number, number], normal: normal as [number, number, number] };
}
