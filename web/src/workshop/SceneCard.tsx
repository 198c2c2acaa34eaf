// What holds for the whole exercise: what it is called, what the student reads, the conventions, what is told.
import { useId, useState } from "react";
import Markdown from "react-markdown";
import type { Card } from "../api/types";
import { Switches } from "../ui/chips";
import { short } from "../ui/numbers";
import { TypedNumber } from "../ui/TypedNumber";
import { Field, ListField, same, TextField } from "./fields";
import type { PlanControl } from "./usePlan";

type Props = { card: Card; put: PlanControl["put"] };

const EULER = ["XYZ", "XZY", "YXZ", "YZX", "ZXY", "ZYX"];
const TOLD = [
  { value: "cause", text: "the cause and the right way" },
  { value: "hint", text: "where to look" },
  { value: "check", text: "which checks were missed" },
  { value: "nothing", text: "the mark alone" },
];
const SHOWN = [
  { value: "shown", text: "shown while working" },
  { value: "hidden", text: "hidden until handed in" },
];

export function SceneCard({ card, put }: Props) {
  const { conventions, rules } = card;
  const pass = useId();
  return (
    <div>
      <TextField label="Title" value={card.title} most={200} onChange={(title) => put("title", title)} />
      <BriefField card={card} put={put} />
      <div className="grid grid-cols-2 gap-x-2">
        <ListField
          label="Up axis"
          value={conventions.up}
          options={[
            { value: "y", text: "Y" },
            { value: "z", text: "Z" },
          ]}
          onChange={(up) => put("conventions", { ...conventions, up: up as "y" })}
        />
        <ListField
          label="Handedness"
          value={conventions.handedness}
          options={same(["right", "left"])}
          onChange={(hand) => put("conventions", { ...conventions, handedness: hand as "right" })}
        />
        <ListField
          label="Lengths in"
          value={conventions.length}
          options={same(["mm", "cm", "m", "in", "ft"])}
          onChange={(length) => put("conventions", { ...conventions, length: length as "m" })}
        />
        <ListField
          label="Angles in"
          value={conventions.angle}
          options={same(["deg", "rad"])}
          onChange={(angle) => put("conventions", { ...conventions, angle: angle as "deg" })}
        />
        <ListField
          label="Order of angles"
          value={conventions.euler}
          options={same([...EULER, ...EULER.map((order) => order.toLowerCase())])}
          onChange={(euler) => put("conventions", { ...conventions, euler: euler as "XYZ" })}
        />
        <Field label="Passes from (%)">
          <TypedNumber
            id={pass}
            label="Passes from (%)"
            shown={short(card.pass_mark * 100)}
            onTake={(value) => put("pass_mark", Math.min(Math.max(value, 0), 100) / 100)}
            className="h-8 w-full rounded-md border border-edge bg-sheet px-2 font-mono"
          />
        </Field>
      </div>
      <ListField
        label="Students are told"
        value={rules.told}
        options={TOLD}
        onChange={(told) => put("rules", { ...rules, told: told as "cause" })}
      />
      <ListField
        label="What is still missing is"
        value={rules.gaps}
        options={SHOWN}
        onChange={(gaps) => put("rules", { ...rules, gaps: gaps as "shown" })}
      />
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
        label="Notes to yourself, never published"
        value={card.notes}
        most={50_000}
        lines={3}
        onChange={(notes) => put("notes", notes)}
      />
    </div>
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
            label="Brief as"
            value={mode}
            words={{ write: "Write", read: "As read" }}
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
          <p className="text-sm text-ink-soft">
            **bold**, *slanted*, and lines that begin with - for a list.
          </p>
        </>
      ) : (
        <div className="brief rounded-md border border-hairline p-2">
          {card.brief.trim() ? <Markdown>{card.brief}</Markdown> : <p>Nothing is written yet.</p>}
        </div>
      )}
    </div>
  );
}
