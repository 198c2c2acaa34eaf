// One of a few values, all in sight.
import { ToggleGroup } from "radix-ui";

type SwitchesProps<T extends string> = {
  label: string;
  value: T;
  words: Partial<Record<T, string>>;
  onChange: (value: T) => void;
  narrow?: boolean;
};

export function Switches<T extends string>({ label, value, words, onChange, narrow }: SwitchesProps<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(next) => next && onChange(next as T)}
      className="inline-flex rounded-md border border-edge"
    >
      {(Object.keys(words) as T[]).map((word) => (
        <ToggleGroup.Item
          key={word}
          value={word}
          className={`h-8 ${narrow ? "min-w-6 px-1.5" : "px-2.5"} first:rounded-l-md last:rounded-r-md hover:bg-well data-[state=on]:bg-plum-soft data-[state=on]:font-semibold data-[state=on]:text-plum`}
        >
          {words[word]}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
