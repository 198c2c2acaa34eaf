// The settings of an assignment: dates in the class's time, attempts, what counts, feedback and when it is shown.
import type { SettingsBody } from "../api/types";
import { DateField, Field, ListField } from "../ui/fields";
import { Tick } from "../ui/parts";
import { AttemptsField } from "./AttemptsField";

type LateKind = NonNullable<SettingsBody["late"]>;

type Props = {
  value: SettingsBody;
  zone: string;
  /** The feedback if the assignment sets none. */
  byExercise?: string | undefined;
  onChange: (value: SettingsBody) => void;
};

const FEEDBACK: Record<string, string> = {
  nothing: "points only",
  check: "each check",
  hint: "each check and a hint",
  cause: "each check, the cause and the reference",
};

export function SettingsFields({ value, zone, byExercise, onChange }: Props) {
  const set = (part: Partial<SettingsBody>) => onChange({ ...value, ...part });
  return (
    <div className="grid grid-cols-3 gap-x-4 max-sm:grid-cols-1">
      <DateField
        label={`Opens (blank: now), ${zone}`}
        value={value.opens ?? ""}
        onChange={(opens) => set({ opens: opens || null })}
      />
      <DateField label={`Due, ${zone}`} value={value.due} onChange={(due) => set({ due })} />
      <AttemptsField
        label="Attempts allowed (blank: no limit)"
        value={value.attempts ?? null}
        onChange={(attempts) => set({ attempts })}
      />
      <ListField
        label="Attempt that counts"
        value={value.counts ?? "best"}
        options={[
          { value: "best", text: "the best" },
          { value: "last", text: "the last" },
        ]}
        onChange={(counts) => set({ counts: counts as "best" | "last" })}
      />
      <ListField
        label="Feedback"
        value={value.feedback ?? ""}
        options={[
          {
            value: "",
            text: byExercise ? `as in the exercise: ${FEEDBACK[byExercise]}` : "as in the exercise",
          },
          ...Object.entries(FEEDBACK).map(([value, text]) => ({ value, text })),
        ]}
        onChange={(feedback) => set({ feedback: (feedback || null) as SettingsBody["feedback"] })}
      />
      <ListField
        label="When feedback is shown"
        value={value.feedback_when ?? "at once"}
        options={[
          { value: "at once", text: "immediately" },
          { value: "after due", text: "after the due date" },
        ]}
        onChange={(when) => set({ feedback_when: when as "at once" | "after due" })}
      />
      <ListField
        label="Late work"
        value={value.late ?? "no cost"}
        options={[
          { value: "no cost", text: "counts in full, marked late" },
          { value: "per day", text: "loses a share of its mark per day" },
          { value: "does not count", text: "does not count" },
        ]}
        onChange={(late) => set({ late: late as LateKind })}
      />
      {value.late === "per day" && (
        <>
          <PercentField
            label="Loss per started day, in %"
            share={value.late_per_day ?? 0}
            onChange={(late_per_day) => set({ late_per_day })}
          />
          <PercentField
            label="Kept at least, in %"
            share={value.late_floor ?? 0}
            onChange={(late_floor) => set({ late_floor })}
          />
        </>
      )}
      <div className="col-span-3 mt-1 flex flex-wrap gap-x-8 gap-y-2 max-sm:col-span-1">
        <Tick
          id="drafts-shown"
          text="Show unfinished work on the board"
          on={value.drafts_shown ?? false}
          onChange={(drafts_shown) => set({ drafts_shown })}
        />
      </div>
    </div>
  );
}

type PercentProps = { label: string; share: number; onChange: (share: number) => void };

function PercentField({ label, share, onChange }: PercentProps) {
  return (
    <Field label={label}>
      <input
        aria-label={label}
        inputMode="numeric"
        value={Math.round(100 * share)}
        onChange={(event) => onChange(Number(event.target.value.replace(/\D/g, "").slice(0, 3)) / 100)}
        className="h-8 w-full rounded-md border border-edge bg-sheet px-2"
      />
    </Field>
  );
}

const DAY_MS = 86_400_000;

/** As it is set where nothing is chosen yet: due in a week, in the evening. */
export function defaultSettings(): SettingsBody {
  const day = new Date(Date.now() + 7 * DAY_MS).toISOString().slice(0, 10);
  return {
    opens: null,
    due: `${day}T18:00`,
    attempts: null,
    counts: "best",
    feedback: null,
    feedback_when: "at once",
    late: "no cost",
    late_per_day: 0.1,
    late_floor: 0,
    drafts_shown: false,
  };
}
