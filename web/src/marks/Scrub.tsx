// A step list to go through: a slider, a step forward and back, and the sentence of the step that is shown.
import { ChevronLeft, ChevronRight } from "lucide-react";
import type { StepView } from "../api/types";
import { nth } from "../ui/lists";
import { IconButton } from "../ui/parts";
import { Slider } from "../ui/Slider";

type Props = { label: string; steps: readonly StepView[]; at: number; onGo: (at: number) => void };

export function Scrub({ label, steps, at, onGo }: Props) {
  const said = at === 0 ? "Start" : `${at}. ${nth(steps, at - 1).sentence}`;
  return (
    <div className="flex flex-wrap items-center gap-x-1 border-t border-hairline bg-sheet px-2 py-1 print:hidden">
      <span className="w-24 shrink-0 text-sm font-semibold">{label}</span>
      <IconButton label={`${label}: previous step`} disabled={at === 0} onClick={() => onGo(at - 1)}>
        <ChevronLeft size={16} aria-hidden />
      </IconButton>
      <Slider
        label={`${label}: step`}
        text={said}
        min={0}
        max={steps.length}
        value={at}
        onChange={onGo}
        className="w-28"
      />
      <IconButton label={`${label}: next step`} disabled={at === steps.length} onClick={() => onGo(at + 1)}>
        <ChevronRight size={16} aria-hidden />
      </IconButton>
      <p className="min-w-0 basis-full truncate px-1 pb-0.5 text-sm" title={said}>
        {said}
      </p>
    </div>
  );
}
