// A field for one number: taken with Enter or by leaving it, where it was changed; what cannot be read stays and says why.
import { useEffect, useId, useState } from "react";
import { type Bounds, outside, readAmount } from "./amount";

type Props = {
  id: string;
  label?: string;
  /** The number as it stands, as it is shown. */
  shown: string;
  disabled?: boolean;
  bounds?: Bounds;
  onTake: (value: number) => void;
  className: string;
};

export function TypedNumber({ id, label, shown, disabled = false, bounds = {}, onTake, className }: Props) {
  const [text, setText] = useState(shown);
  const [why, setWhy] = useState<string | null>(null);
  const trouble = useId();
  useEffect(() => {
    setText(shown);
    setWhy(null);
  }, [shown]);
  const take = () => {
    if (text === shown) return; // a field that was only passed through changes nothing
    const read = readAmount(text);
    if ("why" in read) return setWhy(read.why);
    const wrong = outside(read.value, bounds);
    setWhy(wrong);
    if (wrong !== null) return;
    onTake(read.value);
  };
  const giveUp = () => {
    setText(shown);
    setWhy(null);
  };
  return (
    <>
      <input
        id={id}
        aria-label={label}
        aria-invalid={why !== null}
        aria-describedby={why === null ? undefined : trouble}
        disabled={disabled}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === "Enter") take();
          if (event.key === "Escape") giveUp();
        }}
        className={className}
      />
      {why !== null && (
        <span id={trouble} role="alert" className="order-last col-span-full basis-full text-sm text-fail">
          Not applied: {why}. Esc restores {shown}.
        </span>
      )}
    </>
  );
}
