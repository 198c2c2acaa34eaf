// The versions of an exercise, one to be chosen.
import type { Setting } from "../api/types";
import { Select } from "../ui/Select";

type Props = { page: Setting; label: string; value: number; onChange: (version: number) => void };

export function VersionList({ page, label, value, onChange }: Props) {
  return (
    <Select
      label={label}
      value={String(value)}
      options={page.versions.map((each) => ({
        value: String(each.version),
        text: `Version ${each.number}${each.number === page.version ? ", assigned now" : ""}`,
      }))}
      onChange={(version) => onChange(Number(version))}
    />
  );
}
