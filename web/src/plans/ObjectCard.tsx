// Every property of the chosen object as fields; each change is a step, so that it is undone like one.
import { useEffect, useId, useState } from "react";
import type { Card, Exercise, SceneObject, Step } from "../api/types";
import { measuresOf, solidWith } from "../steps/add";
import { descendants } from "../steps/setting";
import { Field, ListField } from "../ui/fields";
import { focusFirst } from "../ui/focus";
import { short } from "../ui/numbers";
import { Tick } from "../ui/parts";
import { TypedNumber } from "../ui/TypedNumber";
import { type Entry, entryOf } from "../workbench/draft";
import type { WorkControl } from "../workbench/Workbench";
import { madeAs, type Spec, withSolid } from "./given";
import type { PlanControl } from "./usePlan";

type Props = {
  item: SceneObject | undefined;
  work: WorkControl;
  card: Card;
  put: PlanControl["put"];
  conventions: Exercise["conventions"];
  /** The id of a solid that was just added: its first size is selected for typing, and then `onShown` is called. */
  added: string | null;
  onShown: () => void;
};

const NUMBER = "h-8 w-full rounded-md border border-edge bg-sheet px-1.5 text-right font-mono";

export function ObjectCard({ item, work, card, put, conventions, added, onShown }: Props) {
  const ids = useId();
  const id = item?.id;
  useEffect(() => {
    if (id === undefined || id !== added) return;
    focusFirst("Own size");
    onShown();
  }, [id, added, onShown]);
  if (!item) return <p className="text-ink-soft">Select an object to see its properties.</p>;
  const { objects } = work.setting;
  const steps = work.work.entries.map((entry) => entry.step);
  const made = madeAs(item.id, steps, card.base.objects);
  const change = (given: Partial<Spec>) => withGiven(item.id, work, card, put, given);
  const below = [item.id, ...descendants(item.id, objects)];
  const add = (step: Record<string, unknown> & Pick<Step, "op">) =>
    work.add({ objects: [item.id], entry: "typed", ...step } as Step);
  return (
    <div>
      <NameField key={item.id} name={item.name} onTake={(name) => add({ op: "rename", name })} />
      {made && (
        <Sizes
          key={`${item.id} sizes`}
          solid={made.solid}
          unit={conventions.length}
          onChange={(solid) => change({ solid })}
        />
      )}
      <div className="grid grid-cols-2 gap-x-2">
        <Field label="Colour">
          <input
            type="color"
            aria-label="Colour"
            value={item.colour}
            onChange={(event) => add({ op: "paint", colour: event.target.value, opacity: item.opacity })}
            className="h-8 w-full rounded-md border border-edge bg-sheet"
          />
        </Field>
        <Field label="Opacity (0 to 1)">
          <TypedNumber
            id={`${ids}opacity`}
            label="Opacity (0 to 1)"
            shown={short(item.opacity)}
            bounds={{ least: 0, most: 1 }}
            onTake={(opacity) => add({ op: "paint", colour: item.colour, opacity })}
            className={NUMBER}
          />
        </Field>
      </div>
      <ListField
        label="Child of"
        value={item.parent ?? ""}
        options={[
          { value: "", text: "nothing" },
          ...objects
            .filter((other) => !below.includes(other.id))
            .map((other) => ({ value: other.id, text: other.name })),
        ]}
        onChange={(parent) => add({ op: "nest", parent: parent || null, keep: "world" })}
      />
      {made ? (
        <Tick
          id={`${ids}locked`}
          text="Locked: students cannot move it"
          on={made.locked}
          onChange={(locked) => change({ locked })}
        />
      ) : (
        <p className="text-sm text-ink-soft">
          This object was made by a step; its size comes from that step.
        </p>
      )}
    </div>
  );
}

function NameField({ name, onTake }: { name: string; onTake: (name: string) => void }) {
  const [text, setText] = useState(name);
  useEffect(() => setText(name), [name]);
  const take = () => {
    const next = text.trim();
    if (next && next !== name) onTake(next);
    else setText(name);
  };
  return (
    <Field label="Name">
      <input
        aria-label="Name"
        value={text}
        maxLength={200}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => event.key === "Enter" && take()}
        className="h-8 w-full rounded-md border border-edge bg-sheet px-2"
      />
    </Field>
  );
}

type Solid = Spec["solid"];
type SizesProps = { solid: Solid; unit: string; onChange: (solid: Solid) => void };

function Sizes({ solid, unit, onChange }: SizesProps) {
  const ids = useId();
  if (!solid || solid.kind === "mesh") return null;
  const measures = measuresOf(solid);
  return (
    <Field label={`${solid.kind}: ${measures.map(({ name }) => sizeWord(name)).join(", ")} (${unit})`}>
      <div className="grid grid-cols-3 gap-1">
        {measures.map(({ name, value }, i) => (
          <TypedNumber
            key={name}
            id={`${ids}${name}`}
            label={`Own size, ${sizeWord(name)}`}
            shown={short(value)}
            bounds={{ above: 0 }}
            onTake={(next) => onChange(solidWith(solid, i, next))}
            className={NUMBER}
          />
        ))}
      </div>
    </Field>
  );
}

function sizeWord(name: string): string {
  return name.length === 1 ? name.toUpperCase() : name;
}

/** What no step changes is changed where the object was made: in the step that added it, or in what was added. */
function withGiven(
  id: string,
  work: WorkControl,
  card: Card,
  put: PlanControl["put"],
  change: Partial<Spec>,
): void {
  const entries = work.work.entries.map((entry): Entry => {
    const step = withSolid(entry.step, id, change);
    return step === entry.step ? entry : entryOf(step, entry.on);
  });
  const objects = card.base.objects.map((spec) => (spec.id === id ? { ...spec, ...change } : spec));
  if (entries.some((entry, i) => entry !== work.work.entries[i])) work.edit(entries);
  else put("base", { ...card.base, objects });
}
