type Props = { label: string; value: string; onChange: (text: string) => void; className?: string };

export function SearchField({ label, value, onChange, className = "" }: Props) {
  return (
    <input
      type="search"
      aria-label={label}
      placeholder={label}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className={`h-8 rounded-md border border-edge bg-sheet px-2 ${className}`}
    />
  );
}
