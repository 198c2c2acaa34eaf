// A field of the forms that stand alone: signing in, passwords, joining a class.
type Props = {
  label: string;
  name: string;
  type?: string;
  autoComplete: string;
  hint?: string;
  value?: string;
};

export function FormField({ label, hint, value, ...input }: Props) {
  return (
    <label className="block">
      <span className="mb-1 block font-semibold">{label}</span>
      <input
        {...input}
        {...(value === undefined ? {} : { defaultValue: value })}
        required
        className="h-10 w-full rounded-md border border-edge bg-sheet px-3"
      />
      {hint && <span className="text-sm text-ink-soft">{hint}</span>}
    </label>
  );
}
