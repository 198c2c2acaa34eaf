// Snap and nudge: the size of a small step, buttons to nudge by it, and whether drags keep to it.
import { Minus, Plus } from "lucide-react";
import { useState } from "react";
import type { Exercise } from "../api/types";
import { setBench, useBenchParts } from "../state/store";
import { axisKindOf } from "../steps/axisKinds";
import { offeredSizes } from "../steps/sizes";
import { amountOf } from "../ui/amount";
import { short } from "../ui/numbers";
import { IconButton, Tick } from "../ui/parts";
import { Select } from "../ui/Select";
import { AXIS_NAMES } from "../view3d/matrices";

type Props = { conventions: Exercise["conventions"]; onNudge: (way: 1 | -1) => void };

export function SizesRow({ conventions, onNudge }: Props) {
  const { sentence, sizes, snapAlways } = useBenchParts("sentence", "sizes", "snapAlways");
  const { op } = sentence;
  const [own, setOwn] = useState<string | null>(null);
  const unit = axisKindOf(op).sizeUnit(conventions);
  const offered = offeredSizes(op, conventions);
  const all = offered.includes(sizes[op]) ? offered : [sizes[op], ...offered];
  const axis = AXIS_NAMES[sentence.lit];
  const take = (size: number) => setBench({ sizes: { ...sizes, [op]: size } });
  return (
    <div className="flex shrink-0 items-center gap-1.5">
      <IconButton label={`Nudge back along ${axis}`} keys="←" onClick={() => onNudge(-1)}>
        <Minus size={14} aria-hidden />
      </IconButton>
      {own === null ? (
        <Select
          label="Step size"
          value={String(sizes[op])}
          shown={`${short(sizes[op])}${unit}`}
          options={[
            ...all.map((size) => ({ value: String(size), text: `${short(size)}${unit}` })),
            { value: "own", text: "Other size…" },
          ]}
          onChange={(value) => (value === "own" ? setOwn("") : take(Number(value)))}
        />
      ) : (
        <input
          // biome-ignore lint/a11y/noAutofocus: the list that it takes the place of had the focus
          autoFocus
          aria-label="Other step size"
          value={own}
          onChange={(event) => setOwn(event.target.value)}
          onBlur={() => setOwn(null)}
          onKeyDown={(event) => {
            const size = amountOf(own);
            if (event.key === "Enter" && size !== null && size > 0) take(size);
            if (event.key === "Enter" || event.key === "Escape") setOwn(null);
          }}
          className="h-8 w-20 rounded-md border border-edge bg-sheet px-2 text-right font-mono"
        />
      )}
      <IconButton label={`Nudge forward along ${axis}`} keys="→" onClick={() => onNudge(1)}>
        <Plus size={14} aria-hidden />
      </IconButton>
      <Tick id="snap-always" text="snap" on={snapAlways} onChange={(on) => setBench({ snapAlways: on })} />
    </div>
  );
}
