// Leaving with something that is not kept yet: a question within the product, and the browser's own outside of it.
import { useEffect } from "react";
import { useBlocker } from "react-router";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { Button } from "../ui/parts";

type Props = {
  unkept: boolean;
  /** Whether a way within the product leads away from it; all do where nothing is said. */
  leaves?: (path: string) => boolean;
  title: string;
  text: string;
};

/** At most one stands on a page: the router asks no more than one whether somebody may leave. */
export function LeaveDialog({ unkept, leaves = () => true, title, text }: Props) {
  const blocker = useBlocker(({ nextLocation }) => unkept && leaves(nextLocation.pathname));
  useEffect(() => {
    if (!unkept) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [unkept]);
  // What was asked about has been kept meanwhile: there is nothing to ask any more.
  useEffect(() => {
    if (!unkept && blocker.state === "blocked") blocker.proceed();
  }, [unkept, blocker]);
  return (
    <Dialog
      open={unkept && blocker.state === "blocked"}
      onClose={() => blocker.reset?.()}
      title={title}
      text={text}
    >
      <DialogButtons>
        <Button onClick={() => blocker.proceed?.()}>Leave</Button>
        <Button look="main" onClick={() => blocker.reset?.()}>
          Stay here
        </Button>
      </DialogButtons>
    </Dialog>
  );
}
