// Publishing: what is unsound first, then what changed, then the next version, set for a class in the same breath.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import type { Finding, Plan, Published, Soundness } from "../api/types";
import { defaultSettings, SettingsFields } from "../assignments/SettingsFields";
import { ListField } from "../ui/fields";
import { counted } from "../ui/numbers";
import { Button, ErrorNote, Heading, Waiting } from "../ui/parts";
import { ActionLink } from "../ui/table";
import { saveAs } from "./files";
import type { PlanControl } from "./usePlan";

type Props = { plan: Plan; control: PlanControl; soundness: Soundness | undefined; again: () => unknown };

export function PublishScreen({ plan, control, soundness, again }: Props) {
  if (!soundness) return <Waiting what="Checking the exercise…" />;
  const stopping = soundness.findings.filter((finding) => finding.stops);
  const warnings = soundness.findings.filter((finding) => !finding.stops);
  return (
    <main className="min-h-0 flex-1 overflow-y-auto">
      <div className="mx-auto max-w-3xl space-y-6 px-6 py-6">
        <section>
          <Heading>Before you publish</Heading>
          {soundness.findings.length === 0 && <p className="text-pass">✓ No problems found.</p>}
          <Findings plan={plan} findings={stopping} mark="✕" colour="text-fail" />
          {warnings.length > 0 && (
            <p className="mt-2 mb-1 text-sm text-ink-soft">
              {stopping.length > 0 ? "Also worth a look:" : "You can publish it. Worth a look first:"}
            </p>
          )}
          <Findings plan={plan} findings={warnings} mark="≈" colour="text-near" />
        </section>
        {plan.versions.length > 0 && (
          <section>
            <Heading>Changes since version {soundness.number - 1}</Heading>
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
        {plan.may_edit && (
          <Publish {...{ plan, soundness, again }} stopped={stopping.length > 0 || control.dirty} />
        )}
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
            Show
          </Link>
        </li>
      ))}
    </ul>
  );
}

type PublishProps = { plan: Plan; soundness: Soundness; again: () => unknown; stopped: boolean };

function Publish({ plan, soundness, again, stopped }: PublishProps) {
  const { number, seen, classes } = soundness;
  const stops = soundness.findings.filter((finding) => finding.stops).length;
  const [of, setOf] = useState(String(classes[0]?.id ?? ""));
  const [setting, setSetting] = useState(defaultSettings);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [published, setPublished] = useState<Published | null>(null);
  const cache = useQueryClient();
  const zone = classes.find((each) => String(each.id) === of)?.time_zone ?? "";
  async function publish() {
    setBusy(true);
    setProblem(null);
    try {
      const assigned_to = of ? { ...setting, class_id: Number(of) } : null;
      setPublished(await api.publish(plan.plan, { seen, assigned_to }));
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
          {published.assignment
            ? "It is assigned to the class."
            : "It is in the library and not assigned yet."}
        </p>
        {published.assignment && (
          <ActionLink to={`/assignments/${published.assignment}`} main>
            See submissions
          </ActionLink>
        )}
        <ActionLink to="/workshop">Back to the library</ActionLink>
      </section>
    );
  return (
    <section>
      <Heading>Publish version {number}</Heading>
      <div className="max-w-xs">
        <ListField
          label="Assign to"
          value={of}
          options={[
            ...classes.map((each) => ({ value: String(each.id), text: each.name })),
            { value: "", text: "nobody yet" },
          ]}
          onChange={setOf}
        />
      </div>
      {of && <SettingsFields value={setting} zone={zone} onChange={setSetting} />}
      {problem && <ErrorNote text={problem} />}
      <div className="mt-2 flex items-center gap-3">
        <Button look="main" disabled={stopped || busy || (of !== "" && !setting.due)} onClick={publish}>
          {busy ? "Publishing…" : of ? "Publish and assign" : "Publish"}
        </Button>
        <Button onClick={() => void api.planDocument(plan.plan).then((file) => saveAs(plan.exercise, file))}>
          Download
        </Button>
        {stopped && (
          <span className="text-ink-soft">
            {stops > 0 ? `Fix ${counted(stops, "problem")} first.` : "Saving your last change first…"}
          </span>
        )}
      </div>
    </section>
  );
}
