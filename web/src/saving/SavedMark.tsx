import { dateTime } from "../ui/numbers";
import { Tip } from "../ui/parts";
import type { Saving } from "./saver";

const WORDS: Record<Saving, { text: string; colour: string; tip: string }> = {
  saved: { text: "✓ Saved", colour: "text-pass", tip: "All changes are on the server." },
  saving: { text: "… Saving", colour: "text-ink-soft", tip: "Saving the last change." },
  "no connection": {
    text: "✕ Not saved – no connection",
    colour: "text-fail",
    tip: "Keep working: changes stay in this browser and are saved when the server answers.",
  },
  "signed out": {
    text: "✕ Not saved – signed out",
    colour: "text-fail",
    tip: "Sign in again in another window. Your changes stay here and are saved then.",
  },
  fault: {
    text: "✕ Not saved – server fault",
    colour: "text-fail",
    tip: "The server had a fault. Keep working: changes stay in this browser and are sent again.",
  },
  refused: {
    text: "✕ Not saved – refused",
    colour: "text-fail",
    tip: "The server refused the last change. The reason is at the bottom.",
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
