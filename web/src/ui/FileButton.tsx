// Choosing a file: a button, or a drop on the page.
import { type ReactNode, useEffect, useEffectEvent, useId, useState } from "react";

type Props = {
  text: string;
  /** What the file is for, if the page alone does not say. */
  about?: string;
  accept: readonly string[];
  multiple?: boolean;
  onFiles: (files: File[]) => void;
};

export function FileButton({ text, about, accept, multiple = false, onFiles }: Props) {
  const id = useId();
  return (
    <label
      htmlFor={id}
      className="inline-flex h-8 cursor-pointer items-center rounded-md border border-edge bg-sheet px-3 whitespace-nowrap focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-plum hover:bg-well"
    >
      {text}
      {about && <span className="sr-only"> for {about}</span>}
      <input
        id={id}
        type="file"
        multiple={multiple}
        accept={accept.join(",")}
        className="sr-only"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          if (files.length > 0) onFiles(files);
          event.target.value = "";
        }}
      />
    </label>
  );
}

/** Takes files that are dropped anywhere on the page. text: shown while a file is over it. */
export function PageDrop({ text, onFiles }: { text: string; onFiles: (files: File[]) => void }): ReactNode {
  const [over, setOver] = useState(false);
  const take = useEffectEvent(onFiles);
  useEffect(() => {
    const drag = (event: DragEvent) => {
      if (!holdsFile(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => event.relatedTarget === null && setOver(false);
    const drop = (event: DragEvent) => {
      setOver(false);
      const files = [...(event.dataTransfer?.files ?? [])];
      if (files.length === 0) return;
      event.preventDefault();
      take(files);
    };
    window.addEventListener("dragover", drag);
    window.addEventListener("dragleave", leave);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", drag);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("drop", drop);
    };
  }, []);
  return (
    over && (
      <div className="pointer-events-none fixed inset-3 z-50 grid place-items-center rounded-lg border-2 border-dashed border-plum bg-sheet/85">
        <p className="text-lg font-semibold">{text}</p>
      </div>
    )
  );
}

export function holdsFile(event: DragEvent): boolean {
  return event.dataTransfer?.types.includes("Files") ?? false;
}
