import { Slider as Radix } from "radix-ui";

type Props = {
  label: string;
  value: number;
  /** The value as it is read aloud. */
  text: string;
  min: number;
  max: number;
  step?: number;
  onChange: (value: number) => void;
  className?: string;
};

export function Slider({ label, value, text, min, max, step = 1, onChange, className = "" }: Props) {
  return (
    <Radix.Root
      {...{ min, max, step }}
      value={[value]}
      onValueChange={([next]) => next !== undefined && onChange(next)}
      className={`relative inline-flex h-6 touch-none items-center select-none ${className}`}
    >
      <Radix.Track className="h-1.5 flex-1 rounded-full bg-edge">
        <Radix.Range className="absolute h-1.5 rounded-full bg-plum" />
      </Radix.Track>
      <Radix.Thumb aria-label={label} aria-valuetext={text} className="block size-4 rounded-full bg-plum" />
    </Radix.Root>
  );
}
