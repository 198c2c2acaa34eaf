// Chips: small switches and lists that a sentence is made of.
import { Check, ChevronUp } from "lucide-react";
import { Select, ToggleGroup } from "radix-ui";
import type { KeyboardEvent, ReactNode } from "react";

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

export type Option = { value: string; text: string; mark?: ReactNode; indent?: number };

type ListProps = {
  label: string;
  value: string;
  /** What the chip says, where that is none of the options. */
  shown?: string;
  options: readonly Option[];
  onChange: (value: string) => void;
  className?: string;
};

/** While a list is open, nothing behind it can be reached: it is hidden from who hears the screen, too. */
function setBehind(open: boolean): void {
  const root = document.getElementById("root");
  if (root) root.inert = open;
}

/** A list finds what is typed while it is open; closed, a letter is the page's key and not the list's as well. */
function letterIsThePages(event: KeyboardEvent): void {
  if (event.key.length === 1 && event.key !== " " && !event.ctrlKey && !event.metaKey) event.preventDefault();
}

/** A chip that opens to a list. */
export function ListChip({ label, value, shown, options, onChange, className = "" }: ListProps) {
  return (
    <Select.Root value={value} onValueChange={onChange} onOpenChange={setBehind}>
      <Select.Trigger
        aria-label={label}
        onKeyDown={letterIsThePages}
        className={`inline-flex h-8 max-w-56 items-center justify-between gap-1.5 rounded-md border border-edge px-2.5 hover:bg-well ${className}`}
      >
        <span className="truncate">
          <Select.Value placeholder={shown ?? label}>{shown}</Select.Value>
        </span>
        <ChevronUp size={14} aria-hidden className="shrink-0" />
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          side="top"
          sideOffset={4}
          className="z-50 max-h-96 overflow-y-auto rounded-md border border-hairline bg-sheet p-1 shadow-lg"
        >
          <Select.Viewport>
            {options.map((option) => (
              <Select.Item
                key={option.value}
                value={option.value}
                style={{ paddingLeft: `${0.5 + (option.indent ?? 0) * 0.9}rem` }}
                className="flex cursor-pointer items-center gap-2 rounded-sm py-1 pr-2 outline-none data-highlighted:bg-plum-soft"
              >
                <span className="w-4">
                  <Select.ItemIndicator>
                    <Check size={14} aria-hidden />
                  </Select.ItemIndicator>
                </span>
                <Select.ItemText>{option.text}</Select.ItemText>
                {option.mark}
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}
