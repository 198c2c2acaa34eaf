// Two windows changed the same work: the student says which steps stay. Nothing is overwritten without her word.
import { Dialog, DialogButtons } from "../ui/Dialog";
import { counted } from "../ui/numbers";
import { Button } from "../ui/parts";
import type { DraftControl } from "./useDraft";

export function TwoWindows({ draft }: { draft: DraftControl }) {
  const { question, answer } = draft;
  return (
    <Dialog
      open={question !== null}
      title="This work was also changed in another window"
      text="Both have steps that the other lacks. Which are to stay? Undo brings back how it was here."
    >
      {question && (
        <DialogButtons>
          <Button onClick={() => answer("theirs")}>
            The other window's ({counted(question.base.cursor, "step")})
          </Button>
          <Button onClick={() => answer("mine")}>
            This window's ({counted(question.mine.cursor, "step")})
          </Button>
          <Button look="main" onClick={() => answer("both")}>
            Both, this window's last
          </Button>
        </DialogButtons>
      )}
    </Dialog>
  );
}
