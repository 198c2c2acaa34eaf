// The versions of an exercise, one to be chosen.
import type { Setting } from "../api/types";

type Props = { page: Setting; label: string; value: number; onChange: (version: number) => void };

export function VersionList({ page, label, value, onChange }: Props) {
  return (
    <select
      aria-label={label}
      value={value}
      onChange={(event) => onChange(Number(event.target.value))}
      className="h-8 rounded-md border border-edge bg-sheet px-2"
    >
      {page.versions.map((each) => (
        <option key={each.version} value={each.version}>
          Version {each.number}
          {each.number === page.version ? ", set now" : ""}
        </option>
      ))}
    </select>
  );
}
