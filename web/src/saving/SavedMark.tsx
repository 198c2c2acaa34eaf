import { dateTime } from "../ui/numbers";
import { Tip } from "../ui/parts";
import type { Saving } from "./saver";

const WORDS: Record<Saving, { text: string; colour: string; tip: string }> = {
  saved: { text: "✓ Saved", colour: "text-pass", tip: "The server has all of it." },
  saving: { text: "… Saving", colour: "text-ink-soft", tip: "The last change is on its way." },
  "no connection": {
    text: "✕ Not saved – no connection",
    colour: "text-fail",
    tip: "Go on working: it is kept in this browser and sent when the server answers again.",
  },
  "signed out": {
    text: "✕ Not saved – signed out",
    colour: "text-fail",
    tip: "Sign in again in another window: it is kept here and saved then.",
  },
  fault: {
    text: "✕ Not saved – server fault",
    colour: "text-fail",
    tip: "The server met a fault. Go on working: it is kept in this browser and tried again.",
  },
  refused: {
    text: "✕ Not saved – refused",
    colour: "text-fail",
    tip: "The server would not have the last change; see why at the foot.",
  },
};

/** Whether the server has the work; always in sight. */
export function SavedMark({ saving, savedAt }: { saving: Saving; savedAt?: string }) {
  const { text, colour, tip } = WORDS[saving];
  return (
    <Tip text={saving === "saved" && savedAt ? `${tip} Last saved ${dateTime(savedAt)}.` : tip}>
      <output data-saving={saving} className={`mr-1 text-sm font-semibold whitespace-nowrap ${colour}`}>
        {text}
      </output>
    </Tip>
  );
}
