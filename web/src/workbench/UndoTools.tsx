// Back and forth again, in the head of a page.
import { Redo2, Undo2 } from "lucide-react";
import { IconButton } from "../ui/parts";

type Props = { canUndo: boolean; canRedo: boolean; onUndo: () => void; onRedo: () => void };

export function UndoTools({ canUndo, canRedo, onUndo, onRedo }: Props) {
  return (
    <>
      <IconButton label="Undo" keys="Ctrl + Z" disabled={!canUndo} onClick={onUndo}>
        <Undo2 size={16} aria-hidden />
      </IconButton>
      <IconButton label="Redo" keys="Ctrl + Y" disabled={!canRedo} onClick={onRedo}>
        <Redo2 size={16} aria-hidden />
      </IconButton>
    </>
  );
}
