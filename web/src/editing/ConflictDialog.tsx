// Two windows changed the same work: the student says which steps stay. Nothing is overwritten without her word.
import { Dialog, DialogButtons } from "../ui/Dialog";
import { counted } from "../ui/numbers";
import { Button } from "../ui/parts";
import type { DraftControl } from "./useDraft";

export function ConflictDialog({ draft }: { draft: DraftControl }) {
  const { question, answer } = draft;
  return (
    <Dialog
      open={question !== null}
      title="This work was also changed in another window"
      text="Each has steps that the other lacks. Choose which to keep. Undo restores this window’s steps."
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
