// A step typed or pasted as one line of text. The core reads it, and says how it could go on.
import { useEffect, useId, useRef, useState } from "react";
import type { Said, Step } from "../api/types";
import type { Reading } from "../state/sentence";
import { setBench } from "../state/store";
import { isPlainEnter } from "../ui/focus";
import { useNewest } from "../ui/useNewest";

export type AskSaid = (line: string, signal?: AbortSignal) => Promise<Said>;

type Props = { ask: AskSaid; reading: Reading; onClose: () => void; onStep: (step: Step) => void };

export function TextLine({ ask, reading, onClose, onStep }: Props) {
  const [line, setLine] = useState("");

  const id = useId();
  const { of, answer } = useNewest(line, ask);
  const current = of === line ? answer : null;
  const said = current?.step ?? null;
  useEffect(() => setBench({ said }), [said]);
  const doing = useRef(false);
  /** Enter may come before the answer: then it is waited for. */
  const commit = async () => {
    if (doing.current || (current?.step && reading.kind === "not-ready")) return;
    doing.current = true;
    try {
      const { step } = current ?? (await ask(line));
      if (step) onStep(step);
    } catch {
      // the mark beside the title already says that the server does not answer
    }
    doing.current = false;
  };
  const ready = current?.step != null && reading.kind === "ready";
  const why =
    line.trim() === ""
      ? "Type a step as a sentence."
      : current?.why || (ready ? "Press Enter to apply it." : "");
  return (
    <div className="mt-1.5 flex items-center gap-3">
      <input
        // biome-ignore lint/a11y/noAutofocus: it was just asked for
        autoFocus
        aria-label="Step as text"
        list={id}
        value={line}
        placeholder="rotate lock gate by 75 about y of local through its pivot"
        onChange={(event) => setLine(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape") onClose();
          if (!isPlainEnter(event)) return;
          event.currentTarget.select(); // Enter again repeats it, and the next line takes its place
          void commit();
        }}
        className="h-8 min-w-0 flex-1 rounded-md border border-edge bg-sheet px-2 font-mono"
      />
      <datalist id={id}>
        {answer?.completions.map((whole) => (
          <option key={whole} value={`${whole} `} />
        ))}
      </datalist>
      <span role="status" className="max-w-[50%] text-sm text-ink-soft">
        {why}
      </span>
    </div>
  );
}
