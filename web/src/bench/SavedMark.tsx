import { dateTime } from "../ui/numbers";
import { Tip } from "../ui/parts";
import type { Saving } from "./useDraft";

const WORDS: Record<Saving, { text: string; colour: string; tip: string }> = {
  saved: { text: "✓ Saved", colour: "text-pass", tip: "The server has all your steps." },
  saving: { text: "… Saving", colour: "text-ink-soft", tip: "Your last step is on its way." },
  "no connection": {
    text: "✕ Not saved – no connection",
    colour: "text-fail",
    tip: "Go on working: your steps are kept in this browser and sent when the server answers again.",
  },
  "signed out": {
    text: "✕ Not saved – signed out",
    colour: "text-fail",
    tip: "Sign in again in another window: your steps are kept here and saved then.",
  },
};

/** Whether the server has the work; always in sight. */
export function SavedMark({ saving, savedAt }: { saving: Saving; savedAt: string }) {
  const { text, colour, tip } = WORDS[saving];
  return (
    <Tip text={saving === "saved" ? `${tip} Last saved ${dateTime(savedAt)}.` : tip}>
      <output data-saving={saving} className={`mr-1 text-sm font-semibold whitespace-nowrap ${colour}`}>
        {text}
      </output>
    </Tip>
  );
}
