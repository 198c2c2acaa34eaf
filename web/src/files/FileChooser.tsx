// Handing in a file: chosen by a button, or dropped on the page; while it is on its way, how far it is.
import { type DragEvent, type ReactNode, useEffect, useId, useState } from "react";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { Button } from "../ui/parts";
import { READ_KINDS } from "./kinds";
import { type FileControl, useSending } from "./useSending";

/** The button of a page that is about one exercise; a file can be dropped anywhere on that page. */
export function FileChooser({ assignment }: { assignment: number }) {
  const files = useSending();
  const over = useDropOnPage((file) => files.send(assignment, file));
  return (
    <>
      <ChooseButton onFile={(file) => files.send(assignment, file)} />
      <OnItsWay files={files} />
      {over && (
        <div className="pointer-events-none fixed inset-3 z-50 grid place-items-center rounded-lg border-2 border-dashed border-plum bg-sheet/85">
          <p className="text-lg font-semibold">Let go to hand in this file</p>
        </div>
      )}
    </>
  );
}

type ChooseProps = { onFile: (file: File) => void; about?: string };

/** about: what it is handed in for, where the page does not say. */
export function ChooseButton({ onFile, about }: ChooseProps) {
  const id = useId();
  return (
    <label
      htmlFor={id}
      className="inline-flex h-8 cursor-pointer items-center rounded-md border border-edge bg-sheet px-3 whitespace-nowrap focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-plum hover:bg-well"
    >
      Hand in a file
      {about && <span className="sr-only"> for {about}</span>}
      <input
        id={id}
        type="file"
        accept={READ_KINDS.join(",")}
        className="sr-only"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onFile(file);
          event.target.value = "";
        }}
      />
    </label>
  );
}

/** What becomes of a file: how much of it the server has, or why it was not taken. */
export function OnItsWay({ files }: { files: FileControl }) {
  const { sending, stop } = files;
  const refused = sending !== null && "why" in sending;
  return (
    <Dialog
      open={sending !== null}
      onClose={stop}
      title={refused ? "This file cannot be handed in" : `Sending ${sending?.file ?? ""}`}
    >
      {refused ? (
        <p role="alert" className="mt-3 text-fail wrap-anywhere">
          {sending.why}
        </p>
      ) : (
        sending && <Progress part={sending.part} />
      )}
      <DialogButtons>
        <Button onClick={stop}>{refused ? "Close" : "Give up"}</Button>
      </DialogButtons>
    </Dialog>
  );
}

function Progress({ part }: { part: number }) {
  const percent = Math.round(part * 100);
  return (
    <div className="mt-4 space-y-1.5">
      <progress value={percent} max={100} aria-label="Sent" className="h-2 w-full accent-plum" />
      <p role="status" className="text-ink-soft">
        {percent < 100 ? `${percent}% is there` : "It is there, and is being read…"}
      </p>
    </div>
  );
}

/** Whether a file is held over the page, which takes it when it is let go. */
function useDropOnPage(onFile: (file: File) => void): boolean {
  const [over, setOver] = useState(false);
  useEffect(() => {
    const drag = (event: globalThis.DragEvent) => {
      if (!holdsFile(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: globalThis.DragEvent) => event.relatedTarget === null && setOver(false);
    const drop = (event: globalThis.DragEvent) => {
      setOver(false);
      const file = event.dataTransfer?.files[0];
      if (!file) return;
      event.preventDefault();
      onFile(file);
    };
    window.addEventListener("dragover", drag);
    window.addEventListener("dragleave", leave);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", drag);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("drop", drop);
    };
  });
  return over;
}

/** A row of a table that takes a file which is dropped on it. */
export function DropRow({ onFile, children }: { onFile: (file: File) => void; children: ReactNode }) {
  const [over, setOver] = useState(false);
  return (
    <tr
      className={`border-b border-hairline ${over ? "bg-plum-soft" : ""}`}
      onDragOver={(event) => {
        if (!holdsFile(event.nativeEvent)) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event: DragEvent) => {
        setOver(false);
        const file = event.dataTransfer.files[0];
        if (!file) return;
        event.preventDefault();
        onFile(file);
      }}
    >
      {children}
    </tr>
  );
}

function holdsFile(event: globalThis.DragEvent): boolean {
  return event.dataTransfer?.types.includes("Files") ?? false;
}
