// Taking a scene away as a file: which one, of which kind, in which conventions.
import { Download } from "lucide-react";
import { useState } from "react";
import { api } from "../api/client";
import type { Exercise } from "../api/types";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { Button, IconButton } from "../ui/parts";
import { Select } from "../ui/Select";
import { saveBlob } from "../ui/saveBlob";
import { type Asked, ConventionChips } from "./ConventionChips";
import { FIXED, type KindEnd, WRITTEN_KINDS } from "./kinds";

/** A scene that can be removed: what it is called, and its address. */
export type Source = { name: string; address: string };

export function sceneAt(assignment: number, which: string): string {
  return `/api/assignments/${assignment}/scenes/${which}`;
}

/** What is given for something set: where the target is not to be seen, the exercise has none here. */
export function givenIn(assignment: number, exercise: Exercise): Source[] {
  const seen = Object.keys(exercise.target).length > 0;
  return [
    { name: "The start", address: sceneAt(assignment, "start") },
    ...(seen ? [{ name: "The target", address: sceneAt(assignment, "target") }] : []),
  ];
}

type Props = { sources: readonly Source[]; conventions: Exercise["conventions"] };

export function DownloadDialog({ sources, conventions }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <IconButton label="Download" onClick={() => setOpen(true)}>
        <Download size={16} aria-hidden />
      </IconButton>
      {open && <TakeAwayDialog sources={sources} conventions={conventions} onClose={() => setOpen(false)} />}
    </>
  );
}

const UNTIL_CHOSEN: KindEnd = ".glb";

function TakeAwayDialog({ sources, conventions, onClose }: Props & { onClose: () => void }) {
  const [source, setSource] = useState(sources.at(-1)!.address);
  const [kind, setKind] = useState<KindEnd>(UNTIL_CHOSEN);
  const { up, handedness, length } = conventions;
  const [chosen, setChosen] = useState<Asked>({ up, handedness, length });
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const fixed = FIXED.includes(kind);
  const save = async () => {
    setBusy(true);
    setProblem(null);
    try {
      const { name, content } = await api.take(source, { kind, ...chosen });
      saveBlob(name, content);
      onClose();
    } catch (error) {
      setProblem((error as Error).message);
    }
    setBusy(false);
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title="Download"
      text="Open the file in any program that reads its format. A format leaves out what it cannot hold, such as pivots."
    >
      <div className="mt-4 grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-3">
        {sources.length > 1 && (
          <>
            <span className="text-ink-soft">What</span>
            <Select
              label="What"
              value={source}
              options={sources.map(({ name, address }) => ({ value: address, text: name }))}
              onChange={setSource}
              className="w-full max-w-none"
            />
          </>
        )}
        <span className="text-ink-soft">As</span>
        <Select
          label="Kind of file"
          value={kind}
          options={WRITTEN_KINDS.map(({ end, name }) => ({ value: end, text: `${name} (${end})` }))}
          onChange={(next) => setKind(next as KindEnd)}
          className="w-full max-w-none"
        />
        <span className="text-ink-soft">In</span>
        {fixed ? (
          <span>metres, Y up, right-handed (fixed by the format)</span>
        ) : (
          <ConventionChips asked={["up", "handedness", "length"]} value={chosen} onChange={setChosen} />
        )}
      </div>
      {problem && (
        <p role="alert" className="mt-3 text-fail">
          {problem}
        </p>
      )}
      <DialogButtons>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={busy} onClick={save}>
          {busy ? "Preparing…" : "Download"}
        </Button>
      </DialogButtons>
    </Dialog>
  );
}
