// What was done in a class, the newest first.
import { useState } from "react";
import { api } from "../api/client";
import type { Activity } from "../api/types";
import { classTrail } from "../ui/Crumbs";
import { dateTime } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button } from "../ui/parts";
import { useNumber } from "../ui/useNumber";
import { ClassNav } from "./ClassNav";

export function Component() {
  return (
    <Page
      what="activity"
      by="class"
      load={api.activity}
      title={() => "Activity"}
      trail={classTrail}
      waiting="Loading activity…"
    >
      {(first) => <Done first={first} />}
    </Page>
  );
}

function Done({ first }: { first: Activity }) {
  const number = useNumber("class")!;
  const [older, setOlder] = useState<Activity | null>(null);
  const rows = [...first.rows, ...(older?.rows ?? [])];
  const last = rows.at(-1)?.id;
  const more = async () => {
    const next = await api.activity(number, last);
    setOlder({ ...next, rows: [...(older?.rows ?? []), ...next.rows], more: next.more });
  };
  return (
    <>
      <ClassNav class={number} />
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by keyboard */}
      <main tabIndex={0} className="mx-auto w-full max-w-4xl flex-1 overflow-y-auto px-6 py-6">
        {rows.length === 0 && <p>No activity in this class yet.</p>}
        <ol className="space-y-1">
          {rows.map((row) => (
            <li key={row.id} className="flex gap-4 border-b border-hairline py-1">
              <time dateTime={row.at} className="w-40 shrink-0 text-ink-soft">
                {dateTime(row.at)}
              </time>
              <span>
                <strong>{row.who || "Somebody"}</strong> {row.text}
              </span>
            </li>
          ))}
        </ol>
        {(older ?? first).more && (
          <Button className="mt-3" onClick={() => void more()}>
            Show earlier activity
          </Button>
        )}
      </main>
    </>
  );
}
