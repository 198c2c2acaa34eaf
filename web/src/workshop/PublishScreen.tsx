// Publishing: what is unsound first, then what changed, then the next version, set for a class in the same breath.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import type { Finding, Plan, Published, Soundness } from "../api/types";
import { counted } from "../ui/numbers";
import { Button, ErrorNote, Heading, Waiting } from "../ui/parts";
import { ActionLink } from "../ui/table";
import { Field, ListField } from "./fields";
import { saveAs } from "./files";
import type { PlanControl } from "./usePlan";

type Props = { plan: Plan; control: PlanControl; soundness: Soundness | undefined; again: () => unknown };

export function PublishScreen({ plan, control, soundness, again }: Props) {
  if (!soundness) return <Waiting what="Looking whether it is sound…" />;
  const stopping = soundness.findings.filter((finding) => finding.stops);
  const warnings = soundness.findings.filter((finding) => !finding.stops);
  return (
    <main className="min-h-0 flex-1 overflow-y-auto">
      <div className="mx-auto max-w-3xl space-y-6 px-6 py-6">
        <section>
          <Heading>Is it sound?</Heading>
          {soundness.findings.length === 0 && <p className="text-pass">✓ Nothing is wrong with it.</p>}
          <Findings plan={plan} findings={stopping} mark="✕" colour="text-fail" />
          {warnings.length > 0 && (
            <p className="mt-2 mb-1 text-sm text-ink-soft">
              {stopping.length > 0 ? "Besides, look at this:" : "It can be published. Look at this first:"}
            </p>
          )}
          <Findings plan={plan} findings={warnings} mark="≈" colour="text-near" />
        </section>
        {plan.versions.length > 0 && (
          <section>
            <Heading>What changed since version {soundness.number - 1}</Heading>
            {soundness.changes.length === 0 ? (
              <p>Nothing.</p>
            ) : (
              <ul className="list-inside list-disc">
                {soundness.changes.map((change) => (
                  <li key={change}>{change}</li>
                ))}
              </ul>
            )}
          </section>
        )}
        <Publish {...{ plan, soundness, again }} stopped={stopping.length > 0 || control.dirty} />
      </div>
    </main>
  );
}

type FindingsProps = { plan: Plan; findings: readonly Finding[]; mark: string; colour: string };

function Findings({ plan, findings, mark, colour }: FindingsProps) {
  return (
    <ul className="space-y-1">
      {findings.map((finding, i) => (
        <li key={`${finding.code} ${i}`} className="flex items-baseline gap-2">
          <span aria-hidden className={`font-semibold ${colour}`}>
            {mark}
          </span>
          <span className="flex-1">
            {finding.check && <span className="text-ink-soft">{finding.check}: </span>}
            {finding.text}
          </span>
          <Link
            to={`/workshop/${plan.plan}/${finding.place === "brief" ? "stage" : finding.place}`}
            className="text-plum whitespace-nowrap underline"
          >
            Go there
          </Link>
        </li>
      ))}
    </ul>
  );
}

const DAY_MS = 86_400_000;

/** A date and time as its field wants it, in the time zone of the one who types. */
function local(date: Date): string {
  return new Date(date.getTime() - date.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

type PublishProps = { plan: Plan; soundness: Soundness; again: () => unknown; stopped: boolean };

function Publish({ plan, soundness, again, stopped }: PublishProps) {
  const { number, seen, classes } = soundness;
  const [of, setOf] = useState(String(classes[0]?.id ?? ""));
  const [opens, setOpens] = useState("");
  const [due, setDue] = useState(() => `${local(new Date(Date.now() + 7 * DAY_MS)).slice(0, 11)}18:00`);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [published, setPublished] = useState<Published | null>(null);
  const cache = useQueryClient();
  const iso = (text: string) => new Date(text).toISOString();
  async function publish() {
    setBusy(true);
    setProblem(null);
    try {
      const setting = of && { class_id: Number(of), opens_at: opens ? iso(opens) : null, due_at: iso(due) };
      setPublished(await api.publish(plan.plan, { seen, set_for: setting || null }));
      cache.removeQueries({ queryKey: ["home"] });
      cache.removeQueries({ queryKey: ["library"] });
    } catch (error) {
      setProblem((error as Error).message);
      void again();
    }
    setBusy(false);
  }
  if (published)
    return (
      <section role="status" className="rounded-md border border-hairline bg-sheet p-4">
        <p className="mb-2 font-semibold text-pass">✓ Version {published.number} is published.</p>
        <p className="mb-3">
          {published.assignment ? "It is set for the class." : "It is in the library, set for nobody yet."}
        </p>
        {published.assignment && (
          <ActionLink to={`/class/${published.assignment}`} main>
            See submissions
          </ActionLink>
        )}
        <ActionLink to="/workshop">Back to the library</ActionLink>
      </section>
    );
  return (
    <section>
      <Heading>Publish version {number}</Heading>
      <div className="grid grid-cols-3 gap-x-3">
        <ListField
          label="Set for"
          value={of}
          options={[
            ...classes.map((each) => ({ value: String(each.id), text: each.name })),
            { value: "", text: "nobody yet" },
          ]}
          onChange={setOf}
        />
        <DateField label="Opens (left out: at once)" value={opens} disabled={!of} onChange={setOpens} />
        <DateField label="Due" value={due} disabled={!of} onChange={setDue} />
      </div>
      {problem && <ErrorNote text={problem} />}
      <div className="mt-2 flex items-center gap-3">
        <Button look="main" disabled={stopped || busy || (of !== "" && !due)} onClick={publish}>
          {busy ? "Publishing…" : of ? "Publish and set" : "Publish"}
        </Button>
        <Button onClick={() => void api.planDocument(plan.plan).then((file) => saveAs(plan.exercise, file))}>
          Take away as a file
        </Button>
        {stopped && (
          <span className="text-ink-soft">
            Mend {counted(soundness.findings.filter((finding) => finding.stops).length, "thing")} first.
          </span>
        )}
      </div>
    </section>
  );
}

type DateProps = { label: string; value: string; disabled: boolean; onChange: (value: string) => void };

function DateField({ label, value, disabled, onChange }: DateProps) {
  return (
    <Field label={label}>
      <input
        type="datetime-local"
        aria-label={label}
        value={value}
        disabled={disabled}
        onChange={(event) => onChange(event.target.value)}
        className="h-8 w-full rounded-md border border-edge bg-sheet px-2 disabled:opacity-60"
      />
    </Field>
  );
}
