// The fields of how something is set: dates in the class's time, tries, what counts, what is told and when.
import type { SettingBody } from "../api/types";
import { Field, ListField } from "../ui/fields";
import { Tick } from "../ui/parts";

type Props = {
  value: SettingBody;
  zone: string;
  /** What is told where nothing else is set. */
  byExercise?: string | undefined;
  onChange: (value: SettingBody) => void;
};

const TOLD: Record<string, string> = {
  nothing: "points alone",
  check: "each check",
  hint: "each check, and where to look",
  cause: "each check, the cause, and the right way",
};

export function SettingFields({ value, zone, byExercise, onChange }: Props) {
  const set = (part: Partial<SettingBody>) => onChange({ ...value, ...part });
  return (
    <div className="grid grid-cols-3 gap-x-4 max-sm:grid-cols-1">
      <DateField
        label={`Opens (left out: at once), ${zone}`}
        value={value.opens ?? ""}
        onChange={(opens) => set({ opens: opens || null })}
      />
      <DateField label={`Due, ${zone}`} value={value.due} onChange={(due) => set({ due })} />
      <Field label="Tries (left out: without end)">
        <input
          aria-label="Tries"
          inputMode="numeric"
          value={value.tries ?? ""}
          onChange={(event) => {
            const digits = event.target.value.replace(/\D/g, "").slice(0, 4);
            set({ tries: Number(digits) > 0 ? Math.min(1000, Number(digits)) : null });
          }}
          className="h-8 w-full rounded-md border border-edge bg-sheet px-2"
        />
      </Field>
      <ListField
        label="Which try counts"
        value={value.counts ?? "best"}
        options={[
          { value: "best", text: "the best" },
          { value: "last", text: "the last" },
        ]}
        onChange={(counts) => set({ counts: counts as "best" | "last" })}
      />
      <ListField
        label="What students are told"
        value={value.told ?? ""}
        options={[
          {
            value: "",
            text: byExercise ? `as the exercise says: ${TOLD[byExercise]}` : "as the exercise says",
          },
          ...Object.entries(TOLD).map(([told, text]) => ({ value: told, text })),
        ]}
        onChange={(told) => set({ told: (told || null) as SettingBody["told"] })}
      />
      <ListField
        label="When they are told"
        value={value.told_when ?? "at once"}
        options={[
          { value: "at once", text: "at once" },
          { value: "after due", text: "when it was due" },
        ]}
        onChange={(when) => set({ told_when: when as "at once" | "after due" })}
      />
      <div className="col-span-3 mt-1 flex flex-wrap gap-x-8 gap-y-2 max-sm:col-span-1">
        <Tick
          id="late-counts"
          text="Late work counts, with the word late"
          on={value.late_counts ?? true}
          onChange={(late_counts) => set({ late_counts })}
        />
        <Tick
          id="drafts-shown"
          text="The board shows how far unfinished work is"
          on={value.drafts_shown ?? false}
          onChange={(drafts_shown) => set({ drafts_shown })}
        />
      </div>
    </div>
  );
}

type DateProps = { label: string; value: string; onChange: (value: string) => void };

function DateField({ label, value, onChange }: DateProps) {
  return (
    <Field label={label}>
      <input
        type="datetime-local"
        aria-label={label}
        value={value.slice(0, 16)}
        onChange={(event) => onChange(event.target.value)}
        className="h-8 w-full rounded-md border border-edge bg-sheet px-2"
      />
    </Field>
  );
}

const DAY_MS = 86_400_000;

/** As it is set where nothing is chosen yet: due in a week, in the evening. */
export function usualSetting(): SettingBody {
  const day = new Date(Date.now() + 7 * DAY_MS).toISOString().slice(0, 10);
  return {
    opens: null,
    due: `${day}T18:00`,
    tries: null,
    counts: "best",
    told: null,
    told_when: "at once",
    late_counts: true,
    drafts_shown: false,
  };
}
