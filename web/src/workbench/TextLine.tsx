// The sentence typed or pasted as one line of text; the chips follow it.
import { useId, useState } from "react";
import type { Exercise, SceneObject } from "../api/types";
import { useBench } from "./store";
import { completions, parseLine } from "./textLine";

type Props = {
  objects: readonly SceneObject[];
  conventions: Exercise["conventions"];
  ready: boolean;
  onClose: () => void;
  onCommit: () => void;
};

export function TextLine({ objects, conventions, ready, onClose, onCommit }: Props) {
  const [line, setLine] = useState("");
  const change = useBench((state) => state.change);
  const id = useId();
  const parsed = parseLine(line, objects, conventions);
  const read = (text: string) => {
    setLine(text);
    const next = parseLine(text, objects, conventions);
    if (next.kind === "sentence") change(next.sentence);
  };
  return (
    <div className="mt-1.5 flex items-center gap-3">
      <input
        // biome-ignore lint/a11y/noAutofocus: it was just asked for
        autoFocus
        aria-label="The sentence as text"
        list={id}
        value={line}
        placeholder="rotate lock gate by 75 about y of local through its pivot"
        onChange={(event) => read(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape") onClose();
          if (event.key === "Enter" && !event.repeat && parsed.kind === "sentence" && ready) onCommit();
        }}
        className="h-8 min-w-0 flex-1 rounded-md border border-edge bg-sheet px-2 font-mono"
      />
      <datalist id={id}>
        {completions(line, objects).map((whole) => (
          <option key={whole} value={whole} />
        ))}
      </datalist>
      <span role="status" className="text-sm text-ink-soft">
        {parsed.kind === "not-yet" ? parsed.why : "Enter does it."}
      </span>
    </div>
  );
}
