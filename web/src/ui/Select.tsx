// A list to select one value from.
import { Check, ChevronDown } from "lucide-react";
import { Select as Radix } from "radix-ui";
import type { KeyboardEvent, ReactNode } from "react";

export type Option = { value: string; text: string; mark?: ReactNode; indent?: number };

type Props = {
  label: string;
  value: string;
  options: readonly Option[];
  onChange: (value: string) => void;
  /** The text on the button, if it is not that of the selected option. */
  shown?: string | undefined;
  disabled?: boolean;
  className?: string;
};

export function Select({ label, value, options, onChange, shown, disabled, className }: Props) {
  const known = options.some((option) => option.value === value);
  return (
    <Radix.Root
      value={known ? wrapped(value) : ""}
      onValueChange={(next) => onChange(next.slice(1))}
      onOpenChange={setBehind}
      disabled={disabled ?? false}
    >
      <Radix.Trigger
        aria-label={label}
        onKeyDown={letterIsThePages}
        className={`inline-flex h-8 items-center justify-between gap-1.5 rounded-md border border-edge bg-sheet px-2.5 text-left hover:bg-well disabled:opacity-60 ${className ?? "max-w-56"}`}
      >
        <span className="truncate">
          <Radix.Value placeholder={shown ?? label}>{shown}</Radix.Value>
        </span>
        <ChevronDown size={14} aria-hidden className="shrink-0" />
      </Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          position="popper"
          sideOffset={4}
          className="z-50 max-h-[min(24rem,var(--radix-select-content-available-height))] overflow-y-auto rounded-md border border-hairline bg-sheet p-1 shadow-lg"
        >
          <Radix.Viewport>
            {options.map((option) => (
              <Radix.Item
                key={option.value}
                value={wrapped(option.value)}
                style={{ paddingLeft: `${0.5 + (option.indent ?? 0) * 0.9}rem` }}
                className="flex cursor-pointer items-center gap-2 rounded-sm py-1 pr-2 outline-none data-highlighted:bg-plum-soft"
              >
                <span className="w-4">
                  <Radix.ItemIndicator>
                    <Check size={14} aria-hidden />
                  </Radix.ItemIndicator>
                </span>
                <Radix.ItemText>{option.text}</Radix.ItemText>
                {option.mark}
              </Radix.Item>
            ))}
          </Radix.Viewport>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

/** Radix keeps the empty string for itself, as no selection. */
function wrapped(value: string): string {
  return `=${value}`;
}

/** While a list is open, the page behind it is inert, for screen readers too. */
function setBehind(open: boolean): void {
  const root = document.getElementById("root");
  if (root) root.inert = open;
}

/** A closed list leaves letters to the page's keys; an open one finds what is typed. */
function letterIsThePages(event: KeyboardEvent): void {
  if (event.key.length === 1 && event.key !== " " && !event.ctrlKey && !event.metaKey) event.preventDefault();
}
