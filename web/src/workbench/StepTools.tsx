// What can be done with a step of the list as a whole: switched off, moved, repeated, deleted.
import { ArrowDown, ArrowUp, Copy, Eye, EyeOff, Trash2 } from "lucide-react";
import { useState } from "react";
import { IconButton } from "../ui/parts";
import type { Entry } from "./draft";

const MOST_TIMES = 50;

type Props = {
  entry: Entry;
  place: number;
  /** The place of the last step that counts. */
  last: number;
  onReplace: (put: readonly Entry[]) => void;
  onSwap: (other: number) => void;
};

export function StepTools({ entry, place, last, onReplace, onSwap }: Props) {
  const number = place + 1;
  return (
    <div className="flex flex-wrap">
      <IconButton
        label={`Switch step ${number} ${entry.on ? "off" : "on"}`}
        onClick={() => onReplace([{ ...entry, on: !entry.on }])}
      >
        {entry.on ? <EyeOff size={14} aria-hidden /> : <Eye size={14} aria-hidden />}
      </IconButton>
      <IconButton label={`Move step ${number} up`} disabled={place === 0} onClick={() => onSwap(place - 1)}>
        <ArrowUp size={14} aria-hidden />
      </IconButton>
      <IconButton
        label={`Move step ${number} down`}
        disabled={place >= last}
        onClick={() => onSwap(place + 1)}
      >
        <ArrowDown size={14} aria-hidden />
      </IconButton>
      <Repeat onRepeat={(times) => onReplace(Array.from({ length: times + 1 }, () => ({ ...entry })))} />
      <IconButton label={`Delete step ${number}`} onClick={() => onReplace([])}>
        <Trash2 size={14} aria-hidden />
      </IconButton>
    </div>
  );
}

function Repeat({ onRepeat }: { onRepeat: (times: number) => void }) {
  const [text, setText] = useState("1");
  const times = /^\d{1,2}$/.test(text) ? Number(text) : 0;
  const sound = times >= 1 && times <= MOST_TIMES;
  return (
    <span className="flex items-center">
      <input
        inputMode="numeric"
        aria-label={`Repeat, 1 to ${MOST_TIMES} times`}
        aria-invalid={!sound}
        value={text}
        onChange={(event) => setText(event.target.value.trim())}
        className="h-7 w-12 rounded-md border border-edge bg-sheet px-1 text-right font-mono aria-invalid:border-fail"
      />
      <IconButton label="Repeat the step" disabled={!sound} onClick={() => onRepeat(times)}>
        <Copy size={14} aria-hidden />
      </IconButton>
    </span>
  );
}
