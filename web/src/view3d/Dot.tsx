// A point of a solid that can be pressed: a small dot, with its name while the pointer is over it.
import { type PointerEvent, useState } from "react";
import { Label } from "./Label";
import type { Vec3 } from "./matrices";

type Props = {
  at: Vec3;
  /** What is said of it, and what stands beside it under the pointer. */
  name: string;
  words: string;
  big?: boolean;
  /** Whether it is the one that is meant just now. */
  lit?: boolean;
  onClick?: () => void;
  onPointerDown?: (event: PointerEvent<HTMLButtonElement>) => void;
};

export function Dot({ at, name, words, big = false, lit = false, onClick, onPointerDown }: Props) {
  const [under, setUnder] = useState(false);
  const full = under || lit;
  return (
    <Label live at={at}>
      <button
        type="button"
        aria-label={name}
        onPointerEnter={() => setUnder(true)}
        onPointerLeave={() => setUnder(false)}
        onPointerDown={onPointerDown}
        onClick={onClick}
        className="pointer-events-auto grid size-6 touch-none pointer-coarse:size-8 place-items-center"
      >
        <span
          className={`block rounded-full border border-plum ${big ? "size-2.5" : "size-2"} ${full ? "bg-plum" : "bg-sheet"}`}
        />
      </button>
      {full && (
        <span className="absolute top-5 left-5 rounded-sm bg-ink px-1.5 py-0.5 text-sm whitespace-nowrap text-paper">
          {words}
        </span>
      )}
    </Label>
  );
}
