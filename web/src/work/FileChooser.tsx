// Submitting a file, with its progress.
import { type DragEvent, type ReactNode, useState } from "react";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { FileButton, holdsFile, PageDrop } from "../ui/FileButton";
import { Button } from "../ui/parts";
import { READ_KINDS } from "./kinds";
import { type FileControl, useUploads } from "./useUploads";

/** Submitting a file, on a page about one exercise: a button, or a drop anywhere on the page. */
export function FileChooser({ assignment }: { assignment: number }) {
  const files = useUploads();
  const send = (file: File) => files.send(assignment, file);
  return (
    <>
      <SubmitFileButton onFile={send} />
      <UploadProgress files={files} />
      <PageDrop text="Drop to submit this file" onFiles={([file]) => file && send(file)} />
    </>
  );
}

export function SubmitFileButton({ onFile, about }: { onFile: (file: File) => void; about?: string }) {
  return (
    <FileButton
      text="Submit a file"
      {...(about ? { about } : {})}
      accept={READ_KINDS}
      onFiles={([file]) => file && onFile(file)}
    />
  );
}

/** What becomes of a file: how much of it the server has, or why it was not taken. */
export function UploadProgress({ files }: { files: FileControl }) {
  const { sending, stop } = files;
  const refused = sending !== null && "why" in sending;
  return (
    <Dialog
      open={sending !== null}
      onClose={stop}
      title={refused ? "This file cannot be submitted" : `Sending ${sending?.file ?? ""}`}
    >
      {refused ? (
        <p role="alert" className="mt-3 text-fail wrap-anywhere">
          {sending.why}
        </p>
      ) : (
        sending && <Progress part={sending.part} />
      )}
      <DialogButtons>
        <Button onClick={stop}>{refused ? "Close" : "Cancel"}</Button>
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
        {percent < 100 ? `${percent}% sent` : "Sent. Reading the file…"}
      </p>
    </div>
  );
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
