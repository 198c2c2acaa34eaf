// How something is set for a class, and another version of the exercise in its place.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import type { Carried, Setting, SettingBody } from "../api/types";
import { ExerciseNav } from "../classes/ClassNav";
import { counted } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button, Heading } from "../ui/parts";
import { SettingFields } from "./SettingFields";
import { VersionList } from "./VersionList";

export function Component() {
  return (
    <Page
      what="setting"
      by="assignment"
      load={api.setting}
      title={(page) => (page ? `${page.title}: how it is set` : "How it is set")}
      waiting="Looking how it is set…"
    >
      {(page) => <SettingScreen page={page} />}
    </Page>
  );
}

function SettingScreen({ page }: { page: Setting }) {
  const cache = useQueryClient();
  const [value, setValue] = useState<SettingBody>({
    opens: page.opens,
    due: page.due ?? "",
    tries: page.tries,
    counts: page.counts as "best" | "last",
    told: page.told as SettingBody["told"],
    told_when: page.told_when as "at once" | "after due",
    late_counts: page.late_counts,
    drafts_shown: page.drafts_shown,
  });
  const [told, setTold] = useState<{ text: string; bad?: boolean } | null>(null);
  async function keep() {
    try {
      await api.changeSetting(page.assignment, value);
      for (const queryKey of [["home"], ["submissions"], ["board"]]) cache.removeQueries({ queryKey });
      await cache.invalidateQueries({ queryKey: ["setting", page.assignment] });
      setTold({ text: "✓ Kept. Students see on their start page what changed." });
    } catch (error) {
      setTold({ text: (error as Error).message, bad: true });
    }
  }
  return (
    <>
      <ExerciseNav assignment={page.assignment} />
      <main className="mx-auto w-full max-w-4xl flex-1 space-y-8 overflow-y-auto px-6 py-6">
        <section aria-label="Setting">
          <p className="mb-4 text-ink-soft">
            Version {page.version}, set for {page.class_name}. Dates are those of the class’s clock (
            {page.time_zone}); everybody sees them in their own.
          </p>
          <SettingFields
            value={value}
            zone={page.time_zone}
            byExercise={page.told_by_exercise}
            onChange={(next) => {
              setTold(null);
              setValue(next);
            }}
          />
          <div className="mt-4 flex flex-wrap items-center gap-3">
            <Button look="main" disabled={!value.due} onClick={() => void keep()}>
              Keep the changes
            </Button>
            <span role={told?.bad ? "alert" : "status"} className={told?.bad ? "text-fail" : "text-pass"}>
              {told?.text}
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
      setCarried(await api.takeVersion(page.assignment, version));
      setProblem("");
      cache.removeQueries({ queryKey: ["insight", page.assignment] });
      await cache.invalidateQueries({ queryKey: ["setting", page.assignment] });
    } catch (error) {
      setProblem((error as Error).message);
    }
  }
  return (
    <section aria-label="Version">
      <Heading>Another version in its place</Heading>
      <p className="mb-2">
        Unfinished work is carried over. What was handed in stays as it was judged; under <em>Judge again</em>{" "}
        you see what another version would change.
      </p>
      <div className="flex flex-wrap items-center gap-2">
        <VersionList page={page} label="Version" value={version} onChange={setVersion} />
        <Button disabled={number === page.version} onClick={() => void take()}>
          Put version {number} in its place
        </Button>
      </div>
      {problem && (
        <p role="alert" className="mt-2 text-fail">
          {problem}
        </p>
      )}
      {carried && (
        <p role="status" className="mt-2">
          ✓ {counted(carried.carried, "draft")} carried over as they are.{" "}
          {carried.broken.length > 0 &&
            `In those of ${carried.broken.join(", ")} a step cannot be done any more; it is marked there.`}
        </p>
      )}
    </section>
  );
}
