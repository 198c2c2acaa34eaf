// The fields that cards are made of: a label above, what is typed or chosen below.
import type { ReactNode } from "react";
import { Select } from "./Select";

const BOX = "w-full rounded-md border border-edge bg-sheet px-2";

export function Field({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="mb-2">
      <span className="mb-0.5 block text-sm text-ink-soft">{label}</span>
      {children}
    </div>
  );
}

type TextProps = {
  label: string;
  value: string;
  most: number;
  lines?: number;
  onChange: (text: string) => void;
};

export function TextField({ label, value, most, lines, onChange }: TextProps) {
  const shared = { "aria-label": label, value, maxLength: most };
  return (
    <Field label={label}>
      {lines ? (
        <textarea
          {...shared}
          rows={lines}
          onChange={(event) => onChange(event.target.value)}
          className={`${BOX} py-1`}
        />
      ) : (
        <input {...shared} onChange={(event) => onChange(event.target.value)} className={`${BOX} h-8`} />
      )}
    </Field>
  );
}

type DateProps = { label: string; value: string; onChange: (value: string) => void };

/** A date with a time of day, as a clock shows it. */
export function DateField({ label, value, onChange }: DateProps) {
  return (
    <Field label={label}>
      <input
        type="datetime-local"
        aria-label={label}
        value={value.slice(0, 16)}
        onChange={(event) => onChange(event.target.value)}
        className={`${BOX} h-8`}
      />
    </Field>
  );
}

type ListProps = {
  label: string;
  value: string;
  options: readonly { value: string; text: string }[];
  disabled?: boolean;
  onChange: (value: string) => void;
};

export function ListField({ label, value, options, disabled = false, onChange }: ListProps) {
  return (
    <Field label={label}>
      <Select {...{ label, value, options, disabled, onChange }} className="w-full" />
    </Field>
  );
}

type ChoiceProps<T> = {
  label: string;
  value: T;
  options: readonly NoInfer<T>[];
  words: (value: NoInfer<T>) => string;
  onChange: (value: NoInfer<T>) => void;
};

/** A list of what need not be words; what stands there is in it too, where a file said something else than is offered. */
export function ChoiceField<T>({ label, value, options, words, onChange }: ChoiceProps<T>) {
  const key = JSON.stringify(value);
  const offered = options.some((option) => JSON.stringify(option) === key) ? options : [...options, value];
  return (
    <ListField
      label={label}
      value={key}
      options={offered.map((option) => ({ value: JSON.stringify(option), text: words(option) }))}
      onChange={(next) => onChange(JSON.parse(next) as T)}
    />
  );
}

export function same(words: readonly string[]): { value: string; text: string }[] {
  return words.map((value) => ({ value, text: value }));
}
