// What else belongs to a check of its kind: objects, axes, space, points, rules, each as a field.
import { X } from "lucide-react";
import { type ReactNode, useId } from "react";
import type { Check, Exercise, Pivot, SceneObject, Space } from "../api/types";
import { PLACES, placeWords } from "../steps/features";
import { AXIS_OPS, MORE_OPS } from "../steps/registry";
import { pivotWords, spaceWords } from "../steps/spaces";
import type { Bounds } from "../ui/amount";
import { ChoiceField, Field, TextField } from "../ui/fields";
import { nth } from "../ui/lists";
import { short } from "../ui/numbers";
import { Tick } from "../ui/parts";
import { Select } from "../ui/Select";
import { TypedNumber } from "../ui/TypedNumber";
import {
  type CheckKind,
  objectsOf,
  RELATIONS,
  RULES,
  relationsAmong,
  SOLIDS,
  spacesAmong,
  unitOf,
  withAxes,
  withObjects,
  withOwnTolerances,
  withRelation,
  withRule,
  withWay,
} from "./checks";

type Props<K extends CheckKind = CheckKind> = {
  check: Extract<Check, { kind: K }>;
  objects: readonly SceneObject[];
  conventions: Exercise["conventions"];
  onChange: (check: Check) => void;
};

const SIGNED = ["+x", "-x", "+y", "-y", "+z", "-z"] as const;
const AXES = ["x", "y", "z", "xy", "yz", "xz"];
const PIVOTS: readonly Pivot[] = ["own", "box", "selection", "origin", "marker"];
const ZERO_AT = [1, 2, 3, 5];

const axesWords = (axes: string) => axes.toUpperCase().split("").join(" and ");
const signedWords = (axis: string) => axis.replace("-", "−").toUpperCase();
const anyOr =
  <T,>(words: (value: T) => string, open = "any") =>
  (value: T | null | undefined) =>
    value === null || value === undefined ? open : words(value);

export function CheckDetails({ check, objects, conventions, onChange }: Props) {
  const Own = DETAILS[check.kind] as ((props: Props) => ReactNode) | undefined;
  return (
    <div className="mt-1">
      {check.kind !== "count" && <Objects check={check} objects={objects} onChange={onChange} />}
      <div className="grid grid-cols-3 gap-x-2">
        {Own && <Own {...{ check, objects, conventions, onChange }} />}
        {"tolerance" in check && (
          <ChoiceField
            label="No points beyond"
            value={check.zero_at}
            options={ZERO_AT}
            words={(value) => `${short(value)} × tolerance`}
            onChange={(zero_at) => onChange({ ...check, zero_at })}
          />
        )}
      </div>
    </div>
  );
}

const DETAILS: { [K in CheckKind]?: (props: Props<K>) => ReactNode } = {
  position: Position,
  rotation: Rotation,
  size: Size,
  shape: Symmetry,
  count: Count,
  relation: RelationFields,
  process: Process,
  "by-hand": ByHand,
};

/** What an instructor is asked, and what to look for. */
function ByHand({ check, onChange }: Props<"by-hand">) {
  return (
    <div className="col-span-3">
      <TextField
        label="Question"
        value={check.title}
        most={200}
        onChange={(title) => title.trim() && onChange({ ...check, title })}
      />
      <TextField
        label="What to look for"
        value={check.look_for}
        most={2000}
        lines={2}
        onChange={(look_for) => onChange({ ...check, look_for })}
      />
    </div>
  );
}

/** The objects that are checked, the worst of which counts; of a rule of the way those whose steps count. */
function Objects({ check, objects, onChange }: Omit<Props, "conventions">) {
  const of = objectsOf(check);
  const any = check.kind === "process" || check.kind === "by-hand";
  const least = any ? 0 : check.kind === "relation" && check.relation === "row" ? 3 : 1;
  const rest = objects.filter((item) => !of.includes(item.id));
  const nameOf = (id: string) => objects.find((item) => item.id === id)?.name ?? id;
  const take = (ids: string[]) => onChange(withObjects(check, ids));
  return (
    <ul aria-label="Objects checked" className="mb-2 flex flex-wrap items-center gap-1.5">
      {of.map((id) => (
        <li key={id} className="inline-flex h-7 items-center rounded-full border border-edge pl-2.5 text-sm">
          {nameOf(id)}
          <button
            type="button"
            disabled={of.length <= least}
            aria-label={`Remove ${nameOf(id)}`}
            onClick={() => take(of.filter((other) => other !== id))}
            className="px-1.5 disabled:opacity-30"
          >
            <X size={13} aria-hidden />
          </button>
        </li>
      ))}
      {rest.length > 0 && (
        <li>
          <Select
            label="Add another object"
            value=""
            shown={any && of.length === 0 ? "steps on any object…" : "and…"}
            options={rest.map((item) => ({ value: item.id, text: item.name }))}
            onChange={(id) => take([...of, id])}
            className="text-sm text-ink-soft"
          />
        </li>
      )}
    </ul>
  );
}

function Position({ check, objects, conventions, onChange }: Props<"position">) {
  return (
    <>
      <ChoiceField
        label="Point"
        value={check.point}
        options={["pivot", ...PLACES]}
        words={placeWords}
        onChange={(point) => onChange({ ...check, point })}
      />
      <ChoiceField
        label="Measured"
        value={check.measure}
        options={["each", "distance"]}
        words={(measure) => (measure === "each" ? "along each axis" : "as one distance")}
        onChange={(measure) =>
          onChange({ ...(measure === "each" ? check : withOwnTolerances(check, false)), measure })
        }
      />
      <SpaceField check={check} objects={objects} onChange={onChange} />
      <AxesFields check={check} conventions={conventions} onChange={onChange} />
    </>
  );
}

function Rotation({ check, objects, onChange }: Props<"rotation">) {
  return (
    <>
      <ChoiceField
        label="Measured"
        value={check.axis ?? null}
        options={[null, ...SIGNED]}
        words={anyOr((axis) => `direction of its ${signedWords(axis)}`, "as one angle")}
        onChange={(axis) => onChange({ ...check, measure: axis === null ? "angle" : "axis", axis })}
      />
      <SpaceField check={check} objects={objects} onChange={onChange} />
      <Symmetry check={check} onChange={onChange} />
    </>
  );
}

function Size({ check, conventions, onChange }: Props<"size">) {
  return (
    <>
      <ChoiceField
        label="Measured"
        value={check.measure}
        options={["ratio", "length"]}
        words={(measure) => (measure === "ratio" ? "relative to the size" : `in ${conventions.length}`)}
        onChange={(measure) => onChange({ ...check, measure })}
      />
      <Symmetry check={check} onChange={onChange} />
      <AxesFields check={check} conventions={conventions} onChange={onChange} />
    </>
  );
}

function Symmetry({
  check,
  onChange,
}: {
  check: Props<"rotation" | "size" | "shape">["check"];
  onChange: Props["onChange"];
}) {
  return (
    <ChoiceField
      label="Symmetry"
      value={check.symmetry}
      options={["strict", "look"]}
      words={(symmetry) => (symmetry === "strict" ? "exact rotation" : "any rotation that looks the same")}
      onChange={(symmetry) => onChange({ ...check, symmetry })}
    />
  );
}

function Count({ check, onChange }: Props<"count">) {
  return (
    <ChoiceField
      label="Solid"
      value={check.solid}
      options={Object.keys(SOLIDS) as (typeof check.solid)[]}
      words={(solid) => SOLIDS[solid]}
      onChange={(solid) => onChange({ ...check, solid })}
    />
  );
}

function RelationFields({ check, objects, conventions, onChange }: Props<"relation">) {
  const ids = useId();
  const others = objects.map((item) => item.id).filter((id) => !objectsOf(check).includes(id));
  const { relation } = check;
  const along = relation === "centred_on" || relation === "flush";
  return (
    <>
      <ChoiceField
        label="Relation"
        value={relation}
        options={relationsAmong(objects)}
        words={(each) => RELATIONS[each]}
        onChange={(next) => onChange(withRelation(check, next, objects))}
      />
      {check.other && (
        <ChoiceField
          label="Other object"
          value={check.other}
          options={relation === "rests_on" ? ["ground", ...others] : others}
          words={(id) =>
            id === "ground" ? "the ground" : (objects.find((item) => item.id === id)?.name ?? id)
          }
          onChange={(other) => onChange({ ...check, other })}
        />
      )}
      {relation === "rests_on" && (
        <Field label="And">
          <Tick
            id={`${ids}stable`}
            text="does not tip over"
            on={check.stable}
            onChange={(stable) => onChange({ ...check, stable })}
          />
        </Field>
      )}
      {relation === "gap" && (
        <NumberField
          label={`Gap in ${conventions.length}`}
          value={check.distance}
          bounds={{ least: 0 }}
          onTake={(distance) => onChange({ ...check, distance })}
        />
      )}
      {relation === "row" && (
        <NumberField
          label={`Spacing in ${conventions.length}`}
          value={check.spacing}
          bounds={{ least: 0 }}
          onTake={(spacing) => onChange({ ...check, spacing })}
        />
      )}
      {relation === "faces" && (
        <ChoiceField
          label="Own side"
          value={check.axis}
          options={SIGNED}
          words={(axis) => signedWords(axis ?? "")}
          onChange={(axis) => onChange({ ...check, axis })}
        />
      )}
      {relation === "flush" && (
        <ChoiceField
          label="Sides"
          value={check.side}
          options={["max", "min"]}
          words={(side) => (side === "max" ? "the + sides" : "the − sides")}
          onChange={(side) => onChange({ ...check, side })}
        />
      )}
      {along && (
        <>
          <ChoiceField
            label="Along"
            value={check.axes ?? null}
            options={[null, ...AXES, "xyz"]}
            words={anyOr(axesWords, "both horizontal axes")}
            onChange={(axes) => onChange({ ...check, axes })}
          />
          <SpaceField check={check} objects={objects} onChange={onChange} />
        </>
      )}
    </>
  );
}

function Process({ check, objects, onChange }: Props<"process">) {
  const ids = useId();
  const way = check.rule === "uses" || check.rule === "avoids";
  return (
    <>
      <ChoiceField
        label="Rule"
        value={check.rule}
        options={Object.keys(RULES) as (typeof check.rule)[]}
        words={(rule) => RULES[rule]}
        onChange={(rule) => onChange(withRule(check, rule))}
      />
      {way && (
        <>
          <ChoiceField
            label="Kind of step"
            value={check.op ?? null}
            options={[null, ...AXIS_OPS, ...MORE_OPS]}
            words={anyOr(String)}
            onChange={(op) => onChange(withWay(check, "op", op))}
          />
          <ChoiceField
            label="Along or about"
            value={check.axis ?? null}
            options={[null, ...AXES]}
            words={anyOr(axesWords)}
            onChange={(axis) => onChange(withWay(check, "axis", axis))}
          />
          <ChoiceField
            label="Space"
            value={check.space ?? null}
            options={[null, ...spacesAmong(objects)]}
            words={anyOr((space) => spaceOf(space, objects))}
            onChange={(space) => onChange(withWay(check, "space", space))}
          />
          <ChoiceField
            label="Pivot"
            value={check.pivot ?? null}
            options={[null, ...PIVOTS, ...objects.map((item) => ({ object: item.id, at: "pivot" }))]}
            words={anyOr((pivot) => pivotWords(pivot, objects))}
            onChange={(pivot) => onChange(withWay(check, "pivot", pivot))}
          />
          <Field label="Symmetry">
            <Tick
              id={`${ids}declared`}
              text="only if named so"
              on={check.declared}
              onChange={(declared) => onChange({ ...check, declared })}
            />
          </Field>
        </>
      )}
      {check.rule === "at_most" && (
        <NumberField
          label="Most steps"
          value={check.steps}
          bounds={{ least: 0, whole: true }}
          onTake={(steps) => onChange({ ...check, steps })}
        />
      )}
      {check.rule === "multiple" && (
        <NumberField
          label="Multiple of"
          value={check.of}
          bounds={{ above: 0 }}
          onTake={(of) => onChange({ ...check, of })}
        />
      )}
    </>
  );
}

type SpacedCheck = Props<"position" | "rotation" | "relation">["check"];

function SpaceField({
  check,
  objects,
  onChange,
}: Omit<Props, "check" | "conventions"> & { check: SpacedCheck }) {
  return (
    <ChoiceField
      label="Space"
      value={check.space}
      options={spacesAmong(objects)}
      words={(space) => spaceOf(space, objects)}
      onChange={(space) => onChange({ ...check, space })}
    />
  );
}

function spaceOf(space: Space, objects: readonly SceneObject[]): string {
  return spaceWords(typeof space === "object" && "view" in space ? "view" : space, objects);
}

/** Which axes are compared, and whether each has a tolerance of its own. */
function AxesFields({ check, conventions, onChange }: Omit<Props<"position" | "size">, "objects">) {
  const ids = useId();
  const own = Array.isArray(check.tolerance);
  const each = own ? (check.tolerance as number[]) : [];
  return (
    <>
      <ChoiceField
        label="Axes"
        value={check.axes}
        options={["xyz", ...AXES]}
        words={(axes) => (axes === "xyz" ? "all three axes" : axesWords(axes))}
        onChange={(axes) => onChange(withAxes(check, axes))}
      />
      {check.axes.length > 1 && check.measure !== "distance" && (
        <Field label="Tolerance">
          <Tick
            id={`${ids}own`}
            text="one per axis"
            on={own}
            onChange={(next) => onChange(withOwnTolerances(check, next))}
          />
        </Field>
      )}
      {each.map((tolerance, i) => (
        <NumberField
          key={check.axes[i]}
          label={`± ${nth(check.axes, i).toUpperCase()} in ${unitOf(check, conventions)}`}
          value={tolerance}
          bounds={{ least: 0 }}
          onTake={(next) => onChange({ ...check, tolerance: each.map((was, k) => (k === i ? next : was)) })}
        />
      ))}
    </>
  );
}

type NumberProps = {
  label: string;
  value: number | null | undefined;
  bounds: Bounds;
  onTake: (value: number) => void;
};

function NumberField({ label, value, bounds, onTake }: NumberProps) {
  const ids = useId();
  return (
    <Field label={label}>
      <TypedNumber
        id={`${ids}number`}
        label={label}
        shown={value === null || value === undefined ? "" : short(value)}
        {...{ bounds, onTake }}
        className="h-8 w-full rounded-md border border-edge bg-sheet px-1.5 text-right font-mono"
      />
    </Field>
  );
}
