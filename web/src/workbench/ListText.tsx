// The whole list as text: taken, edited, and put back once every line can be read.
import { FileText } from "lucide-react";
import { useEffect, useState } from "react";
import type { DraftSteps, TextLine } from "../api/types";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { nth } from "../ui/lists";
import { counted } from "../ui/numbers";
import { Button, IconButton } from "../ui/parts";
import { type Entry, entryOf, listOf, sameStep } from "./draft";

const AFTER_TYPING_MS = 200;

export type AskText = (list: DraftSteps) => Promise<string>;
export type AskLines = (text: string) => Promise<readonly TextLine[]>;

type Props = {
  entries: readonly Entry[];
  ask: AskText;
  read: AskLines;
  onTake: (entries: readonly Entry[]) => void;
};

export function ListText({ entries, ask, read, onTake }: Props) {
  const [text, setText] = useState<string | null>(null);
  const [trouble, setTrouble] = useState("");
  const open = async () => {
    const list = listOf(entries);
    try {
      setText(await ask({ ...list, cursor: list.steps.length }));
      setTrouble("");
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : "");
    }
  };
  return (
    <>
      <IconButton label="Steps as text" onClick={open}>
        <FileText size={14} aria-hidden />
      </IconButton>
      {trouble && (
        <span role="alert" className="text-sm font-semibold text-fail">
          {trouble}
        </span>
      )}
      {text !== null && (
        <TextDialog
          first={text}
          read={read}
          onClose={() => setText(null)}
          onTake={(lines) => {
            setText(null);
            onTake(
              lines.flatMap(({ step }, i) => (step ? [kept(entries, i, lines) ?? entryOf(step, true)] : [])),
            );
          }}
        />
      )}
    </>
  );
}

/** The entry that a line still says, at the place it had: it need not be worked out again, and may be switched off. */
function kept(entries: readonly Entry[], at: number, lines: readonly TextLine[]): Entry | null {
  const place = lines.slice(0, at).filter(({ step }) => step).length;
  const entry = entries[place];
  return entry && sameStep(entry.step, nth(lines, at).step) ? entry : null;
}

type DialogProps = {
  first: string;
  read: AskLines;
  onClose: () => void;
  onTake: (lines: readonly TextLine[]) => void;
};

function TextDialog({ first, read, onClose, onTake }: DialogProps) {
  const [text, setText] = useState(first);
  const [answer, setAnswer] = useState<{ text: string; lines: readonly TextLine[] } | null>(null);
  const [trouble, setTrouble] = useState("");
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(async () => {
      try {
        const lines = await read(text);
        if (gone) return;
        setAnswer({ text, lines });
        setTrouble("");
      } catch (error) {
        if (!gone) setTrouble(error instanceof Error ? error.message : "");
      }
    }, AFTER_TYPING_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [read, text]);
  const lines = answer?.lines ?? [];
  const wrong = lines.filter(({ why }) => why !== "");
  const steps = lines.filter(({ step }) => step).length;
  const ready = answer?.text === text && wrong.length === 0;
  return (
    <Dialog
      wide
      open
      onClose={onClose}
      title="Steps as text"
      text="One sentence a line. Text after # is a comment."
    >
      <textarea
        aria-label="Steps as text"
        spellCheck={false}
        value={text}
        onChange={(event) => setText(event.target.value)}
        className="mt-3 h-56 w-full resize-y rounded-md border border-edge bg-paper p-2 font-mono text-sm"
      />
      <div role="status" className="mt-2 max-h-40 overflow-y-auto text-sm">
        {trouble && <p className="font-semibold text-fail">{trouble}</p>}
        {wrong.map(({ number, why, at, step }) => (
          <p key={number} className="text-fail">
            ✕ Line {number}
            {step ? "" : `, character ${at + 1}`}: {why}
          </p>
        ))}
        {ready && <p className="text-ink-soft">{counted(steps, "step")}; every line works.</p>}
      </div>
      <DialogButtons>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={!ready} onClick={() => onTake(lines)}>
          Replace the list
        </Button>
      </DialogButtons>
    </Dialog>
  );
}
