// How many attempts are allowed.
import { Field } from "../ui/fields";

const MOST = 1000;

type Props = { label: string; value: number | null; onChange: (value: number | null) => void };

export function AttemptsField({ label, value, onChange }: Props) {
  return (
    <Field label={label}>
      <input
        aria-label="Attempts"
        inputMode="numeric"
        value={value ?? ""}
        onChange={(event) => {
          const digits = event.target.value.replace(/\D/g, "").slice(0, 4);
          onChange(Number(digits) > 0 ? Math.min(MOST, Number(digits)) : null);
        }}
        className="h-8 w-full rounded-md border border-edge bg-sheet px-2"
      />
    </Field>
  );
}
