// The settings of an assignment, and its version.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import type { Carried, Setting, SettingsBody } from "../api/types";
import { ExerciseNav } from "../people/ClassNav";
import { assignmentTrail } from "../ui/Crumbs";
import { counted } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button, Heading } from "../ui/parts";
import { SettingsFields } from "./SettingsFields";
import { VersionList } from "./VersionList";

export function Component() {
  return (
    <Page
      what="setting"
      by="assignment"
      load={api.setting}
      title={() => "Settings"}
      trail={assignmentTrail}
      waiting="Loading settings…"
    >
      {(page) => <SettingsScreen page={page} />}
    </Page>
  );
}

function SettingsScreen({ page }: { page: Setting }) {
  const cache = useQueryClient();
  const [value, setValue] = useState<SettingsBody>({
    opens: page.opens,
    due: page.due ?? "",
    attempts: page.attempts,
    counts: page.counts as "best" | "last",
    feedback: page.feedback as SettingsBody["feedback"],
    feedback_when: page.feedback_when as "at once" | "after due",
    late: page.late as NonNullable<SettingsBody["late"]>,
    late_per_day: page.late_per_day || 0.1,
    late_floor: page.late_floor,
    drafts_shown: page.drafts_shown,
  });
  const [notice, setNotice] = useState<{ text: string; bad?: boolean } | null>(null);
  async function keep() {
    try {
      await api.changeSetting(page.assignment, value);
      for (const queryKey of [["home"], ["submissions"], ["board"]]) cache.removeQueries({ queryKey });
      await cache.invalidateQueries({ queryKey: ["setting", page.assignment] });
      setNotice({ text: "✓ Saved. Students see the change on their start page." });
    } catch (error) {
      setNotice({ text: (error as Error).message, bad: true });
    }
  }
  return (
    <>
      <ExerciseNav assignment={page.assignment} />
      <main className="mx-auto w-full max-w-4xl flex-1 space-y-8 overflow-y-auto px-6 py-6">
        <section aria-label="Setting">
          <p className="mb-4 text-ink-soft">
            Version {page.version}, assigned to {page.class_name}. Dates are in the time zone of the class (
            {page.time_zone}); everybody sees them in their own time zone.
          </p>
          <SettingsFields
            value={value}
            zone={page.time_zone}
            byExercise={page.feedback_by_exercise}
            onChange={(next) => {
              setNotice(null);
              setValue(next);
            }}
          />
          <div className="mt-4 flex flex-wrap items-center gap-3">
            <Button look="main" disabled={!value.due} onClick={() => void keep()}>
              Save changes
            </Button>
            <span role={notice?.bad ? "alert" : "status"} className={notice?.bad ? "text-fail" : "text-pass"}>
              {notice?.text}
            </span>
          </div>
        </section>
        {page.versions.length > 1 && <Versions page={page} />}
      </main>
    </>
  );
}

function Versions({ page }: { page: Setting }) {
  const cache = useQueryClient();
  const newest = page.versions.at(-1)!;
  const [version, setVersion] = useState(newest.version);
  const [carried, setCarried] = useState<Carried | null>(null);
  const [problem, setProblem] = useState("");
  const number = page.versions.find((each) => each.version === version)?.number;
  async function take() {
    try {
      setCarried(await api.replaceVersion(page.assignment, version));
      setProblem("");
      cache.removeQueries({ queryKey: ["insight", page.assignment] });
      await cache.invalidateQueries({ queryKey: ["setting", page.assignment] });
    } catch (error) {
      setProblem((error as Error).message);
    }
  }
  return (
    <section aria-label="Version">
      <Heading>Replace with another version</Heading>
      <p className="mb-2">
        Unfinished work is carried over. Submitted work keeps its result; under <em>Re-check</em> you see what
        another version would change.
      </p>
      <div className="flex flex-wrap items-center gap-2">
        <VersionList page={page} label="Version" value={version} onChange={setVersion} />
        <Button disabled={number === page.version} onClick={() => void take()}>
          Use version {number}
        </Button>
      </div>
      {problem && (
        <p role="alert" className="mt-2 text-fail">
          {problem}
        </p>
      )}
      {carried && (
        <p role="status" className="mt-2">
          ✓ {counted(carried.carried, "draft")} carried over unchanged.{" "}
          {carried.broken.length > 0 &&
            `The drafts of ${carried.broken.join(", ")} have a step that no longer works; it is marked there.`}
        </p>
      )}
    </section>
  );
}
