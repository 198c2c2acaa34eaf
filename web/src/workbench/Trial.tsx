// Try without keeping: what follows is bracketed in the list until it is kept or let go.
import { Brackets } from "lucide-react";
import { setBench, useBench } from "../state/store";
import { Button, IconButton } from "../ui/parts";
import type { Entry, Work } from "./draft";

/** The place of the first step on trial; `null` where none is tried, or all of them were undone again. */
export function useTrial({ cursor }: Pick<Work, "cursor">): number | null {
  const trial = useBench((state) => state.trial);
  return trial !== null && trial <= cursor ? trial : null;
}

type Props = { work: Work; onEdit: (entries: readonly Entry[]) => void };

export function TrialTools({ work, onEdit }: Props) {
  const trial = useTrial(work);
  if (trial === null)
    return (
      <IconButton label="Try without keeping" onClick={() => setBench({ trial: work.cursor })}>
        <Brackets size={14} aria-hidden />
      </IconButton>
    );
  return (
    <span className="flex gap-1">
      <Button onClick={() => setBench({ trial: null })}>Keep</Button>
      <Button
        onClick={() => {
          setBench({ trial: null, looking: null });
          if (work.cursor > trial) onEdit(work.entries.slice(0, trial));
        }}
      >
        Discard
      </Button>
    </span>
  );
}
