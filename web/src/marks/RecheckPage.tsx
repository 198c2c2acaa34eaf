// Re-checking the submissions of an assignment: progress, what would change, and applying all of it or some rows.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import type { Recheck, Setting } from "../api/types";
import { VersionList } from "../assignments/VersionList";
import { ExerciseNav } from "../people/ClassNav";
import { assignmentTrail } from "../ui/Crumbs";
import { counted, dateTime, short } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button, ErrorNote, Tick } from "../ui/parts";

const AGAIN_MS = 700;

export function Component() {
  return (
    <Page
      what="setting"
      by="assignment"
      load={api.setting}
      title={() => "Re-check"}
      trail={assignmentTrail}
      waiting="Loading…"
    >
      {(page) => <RecheckScreen page={page} />}
    </Page>
  );
}

function RecheckScreen({ page }: { page: Setting }) {
  const cache = useQueryClient();
  const key = ["recheck", page.assignment];
  const found = useQuery({
    queryKey: key,
    queryFn: () => api.newestRecheck(page.assignment),
    refetchInterval: ({ state }) => (state.data?.state === "working" ? AGAIN_MS : false),
  });
  const set = page.versions.find((each) => each.number === page.version) ?? page.versions.at(-1);
  const [version, setVersion] = useState(page.versions.at(-1)?.version ?? set?.version ?? 0);
  const [message, setMessage] = useState("");
  const act = (what: Promise<unknown>, words = "") =>
    void what
      .then(() => setMessage(words))
      .catch((error: Error) => setMessage(error.message))
      .finally(() => cache.invalidateQueries({ queryKey: key }));
  const recheck = found.data;
  return (
    <>
      <ExerciseNav assignment={page.assignment} />
      <main className="mx-auto w-full max-w-5xl flex-1 space-y-6 overflow-y-auto px-6 py-6">
        <p>
          Check all submissions again with another version, or with the rules of this release. Nothing changes
          until you apply the result.
        </p>
        <div className="flex flex-wrap items-center gap-2">
          <VersionList page={page} label="Version" value={version} onChange={setVersion} />
          <Button
            look="main"
            disabled={recheck?.state === "working"}
            onClick={() => act(api.askRecheck(page.assignment, version))}
          >
            Re-check
          </Button>
          <span role="status">{message}</span>
        </div>
        {found.error && <ErrorNote text={found.error.message} retry={() => found.refetch()} />}
        {recheck && (
          <Outcome
            key={recheck.recheck}
            recheck={recheck}
            onCancel={() => act(api.cancelRecheck(recheck.recheck), "Stopped.")}
            onTake={(submissions) =>
              act(
                api.applyRecheck(recheck.recheck, submissions).then(({ count }) => {
                  for (const what of ["insight", "submissions", "board", "home", "result"])
                    cache.removeQueries({ queryKey: [what] });
                  setMessage(`✓ ${counted(count, "mark")} applied.`);
                }),
                "✓ Applied. The students concerned see it on their start page.",
              )
            }
          />
        )}
      </main>
    </>
  );
}

type OutcomeProps = {
  recheck: Recheck;
  onCancel: () => void;
  onTake: (submissions: number[] | null) => void;
};

function Outcome({ recheck, onCancel, onTake }: OutcomeProps) {
  const [out, setOut] = useState<ReadonlySet<number>>(new Set());
  const working = recheck.state === "working";
  const open = recheck.rows.filter((row) => !row.taken && row.points !== null);
  const chosen = open.filter((row) => !out.has(row.submission)).map((row) => row.submission);
  return (
    <section aria-label="What would change" className="space-y-3">
      <p>
        With version {recheck.version}, requested {dateTime(recheck.asked_at)}: {recheck.done} of{" "}
        {counted(recheck.total, "submission")} checked{recheck.state === "cancelled" && ", then stopped"}.
      </p>
      {working && (
        <div className="flex items-center gap-3">
          <progress
            aria-label="Checked"
            value={recheck.done}
            max={Math.max(1, recheck.total)}
            className="h-2 flex-1 accent-plum"
          />
          <Button onClick={onCancel}>Cancel</Button>
        </div>
      )}
      {!working && recheck.rows.length === 0 && <p className="text-pass">✓ Nothing would change.</p>}
      {recheck.rows.length > 0 && (
        <table className="w-full border-collapse text-left">
          <caption className="mb-1 text-left text-sm text-ink-soft">
            {counted(recheck.rows.length, "submission")} would get a different result or mark
          </caption>
          <thead className="text-sm text-ink-soft">
            <tr className="border-y border-hairline">
              {["Apply", "Student", "Current mark", "New mark", "Changes"].map((head) => (
                <th key={head} scope="col" className="px-2 py-1 font-normal">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {recheck.rows.map((row) => (
              <tr key={row.submission} className="border-b border-hairline align-top">
                <td className="px-2 py-1.5">
                  {row.taken ? (
                    <span className="text-pass">✓ applied</span>
                  ) : row.points === null ? (
                    "–"
                  ) : (
                    <Tick
                      id={`take-${row.submission}`}
                      text={`attempt ${row.number}`}
                      on={!out.has(row.submission)}
                      onChange={(on) => {
                        const next = new Set(out);
                        if (on) next.delete(row.submission);
                        else next.add(row.submission);
                        setOut(next);
                      }}
                    />
                  )}
                </td>
                <td className="px-2 py-1.5">
                  <Link to={`/result/${row.submission}`} className="text-plum underline">
                    {row.student}
                  </Link>
                </td>
                <MarkCell points={row.was} of={row.was_of} passed={row.was_passed} />
                <MarkCell points={row.points} of={row.of} passed={row.passed} />
                <td className="px-2 py-1.5 text-sm">{row.why || row.changed.join("; ")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {!working && open.length > 0 && (
        <Button
          look="main"
          disabled={chosen.length === 0}
          onClick={() => onTake(chosen.length === open.length ? null : chosen)}
        >
          Apply {counted(chosen.length, "mark")}
        </Button>
      )}
    </section>
  );
}

function MarkCell({ points, of, passed }: { points: number | null; of: number | null; passed: boolean }) {
  if (points === null || of === null) return <td className="px-2 py-1.5">cannot be checked</td>;
  return (
    <td className="px-2 py-1.5 whitespace-nowrap">
      <span className="font-mono">
        {short(Number(points.toFixed(2)))}/{short(of)}
      </span>{" "}
      <span className={passed ? "text-pass" : "text-fail"}>{passed ? "✓" : "✕"}</span>
    </td>
  );
}
