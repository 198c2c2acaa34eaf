// Submitting: the saved draft as it stands, once, however often the button is pressed.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, Problem } from "../api/client";
import type { Bench } from "../api/types";
import type { DraftControl } from "../editing/useDraft";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { counted } from "../ui/numbers";
import { Button, Tip } from "../ui/parts";
import { useTrial } from "../workbench/Trial";

type Props = { bench: Bench; draft: DraftControl; asking: boolean; onAsk: (asking: boolean) => void };

export function SubmitButton({ bench, draft, asking, onAsk }: Props) {
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const navigate = useNavigate();
  const cache = useQueryClient();
  const { cursor, state, refused, dirty, revision } = draft.work;
  const { gaps } = state;
  const trial = useTrial(draft.work);
  const tried = trial === null ? 0 : cursor - trial;
  const broken = refused !== null && refused.step <= cursor;
  const passed = gaps.filter((gap) => gap.verdict === "pass").length;

  async function handIn() {
    setBusy(true);
    setProblem(null);
    try {
      const { submission } = await api.submit(bench.assignment, revision);
      cache.removeQueries({ queryKey: ["home"] });
      navigate(`/result/${submission}`);
    } catch (error) {
      if (error instanceof Problem && error.body.newer) {
        draft.meet(error.body.newer);
        onAsk(false);
      } else setProblem((error as Error).message);
    }
    setBusy(false);
  }

  return (
    <>
      <Tip text="Submit (Ctrl + Enter)">
        <Button look="main" disabled={cursor === 0} onClick={() => onAsk(true)}>
          Submit
        </Button>
      </Tip>
      <Dialog
        open={asking}
        onClose={() => onAsk(false)}
        title="Submit your work?"
        text={
          broken
            ? `${refused.text} Fix or delete that step first.`
            : `${counted(cursor, "step")}${bench.exercise.gaps_shown ? `; ${passed} of ${counted(gaps.length, "check")} pass now` : ""}. You can continue and submit again afterwards.`
        }
      >
        {tried > 0 && (
          <p className="mt-3">
            The last {counted(tried, "step")} {tried === 1 ? "is" : "are"} on trial; submitting keeps{" "}
            {tried === 1 ? "it" : "them"}. Go back to discard {tried === 1 ? "it" : "them"} go.
          </p>
        )}
        {problem && (
          <p role="alert" className="mt-3 text-fail">
            {problem}
          </p>
        )}
        <DialogButtons>
          <Button onClick={() => onAsk(false)}>Cancel</Button>
          <Button look="main" disabled={busy || dirty || broken} onClick={handIn}>
            {dirty ? "Saving first…" : busy ? "Submitting…" : "Submit now"}
          </Button>
        </DialogButtons>
      </Dialog>
    </>
  );
}
