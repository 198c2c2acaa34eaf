// An instructor's parts of the start page.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api } from "../api/client";
import type { Home } from "../api/types";
import { ClassDialog } from "../people/ClassDialog";
import { counted, fromNow } from "../ui/numbers";
import { Button, Heading } from "../ui/parts";
import { ActionLink, Cell, DueCell, Table, TitleCell } from "../ui/table";

type Row = Home["taught"][number];
const DAY_MS = 86_400_000;
const MOST = 6; // lines: more is no start
type Need = { key: string; text: string; under: string; to: string; does: string; weight: number };

/** What needs her: something due today, what nobody has reviewed at, a cause that many share. */
export function needsOf(rows: readonly Row[], now: Date): Need[] {
  const found: Need[] = [];
  for (const row of rows) {
    const left = new Date(row.due_at).getTime() - now.getTime();
    const under = row.class_name;
    const place = `/assignments/${row.assignment}`;
    if (left > 0 && left < DAY_MS)
      found.push({
        key: `due ${row.assignment}`,
        text: `${row.title} is due ${fromNow(row.due_at, now)}: ${row.submitted} of ${row.students} submitted`,
        under,
        to: place,
        does: "Show who",
        weight: 1000,
      });
    if (row.not_reviewed > 0 && row.next_to_review !== null)
      found.push({
        key: `look ${row.assignment}`,
        text: `${row.title}: ${counted(row.not_reviewed, "submission")} not reviewed`,
        under,
        to: `/result/${row.next_to_review}`,
        does: "Review",
        weight: 500 + row.not_reviewed,
      });
    if (row.shared_by > 0)
      found.push({
        key: `cause ${row.assignment}`,
        text: `${row.shared_by} of ${row.submitted} in ${row.title}: ${row.shared}`,
        under,
        to: `${place}/mistakes`,
        does: "Show class mistakes",
        weight: 100 + row.shared_by,
      });
  }
  return found.sort((a, b) => b.weight - a.weight);
}

export function Needs({ rows }: { rows: readonly Row[] }) {
  const [all, setAll] = useState(false);
  const needs = needsOf(rows, new Date());
  if (rows.length === 0) return null;
  return (
    <section aria-label="To do">
      <Heading>To do</Heading>
      {needs.length === 0 && <p className="text-pass">✓ Nothing: every submission is reviewed.</p>}
      <ul className="divide-y divide-hairline rounded-lg border border-hairline bg-sheet">
        {needs.slice(0, all ? needs.length : MOST).map((need) => (
          <li key={need.key} className="flex items-center gap-4 px-4 py-2">
            <span className="flex-1">
              {need.text}
              <span className="block text-sm text-ink-soft">{need.under}</span>
            </span>
            <ActionLink to={need.to}>{need.does}</ActionLink>
          </li>
        ))}
      </ul>
      {needs.length > MOST && (
        <button type="button" className="mt-1 text-plum underline" onClick={() => setAll(!all)}>
          {all ? "Show fewer" : `Show ${needs.length - MOST} more`}
        </button>
      )}
    </section>
  );
}

export function YourClasses({ classes }: { classes: Home["classes"] }) {
  const [making, setMaking] = useState(false);
  const navigate = useNavigate();
  const cache = useQueryClient();
  return (
    <section aria-label="Your classes">
      <div className="mb-2 flex items-center">
        <Heading>Your classes</Heading>
        <Button className="ml-auto" onClick={() => setMaking(true)}>
          New class
        </Button>
      </div>
      {classes.length === 0 && <p>You do not teach a class yet. Make one, then add people.</p>}
      <ul className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
        {classes.map((each) => (
          <li
            key={each.id}
            className="flex flex-wrap items-center gap-2 rounded-lg border border-hairline bg-sheet px-4 py-3"
          >
            <span className="min-w-40 flex-1">
              <Link
                to={`/classes/${each.id}`}
                className="font-semibold text-plum underline-offset-2 hover:underline"
              >
                {each.name}
              </Link>
              <span className="block text-sm text-ink-soft">{counted(each.students, "student")}</span>
            </span>
            <ActionLink to={`/classes/${each.id}/people`}>People</ActionLink>
            <ActionLink to={`/classes/${each.id}`} main>
              Board
            </ActionLink>
          </li>
        ))}
      </ul>
      <Archived />
      {making && (
        <ClassDialog
          title="New class"
          done="Create class"
          onClose={() => setMaking(false)}
          onDone={async (body) => {
            const { id } = await api.createClass(body);
            cache.removeQueries({ queryKey: ["home"] });
            navigate(`/classes/${id}/people`);
          }}
        />
      )}
    </section>
  );
}

/** Archived classes, loaded when they are asked for. */
function Archived() {
  const [open, setOpen] = useState(false);
  const found = useQuery({ queryKey: ["classes"], queryFn: api.classes, enabled: open });
  const archived = found.data?.classes.filter((each) => each.archived);
  return (
    <details className="mt-2" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer text-ink-soft">Archived classes</summary>
      {archived?.length === 0 && <p className="text-ink-soft">None.</p>}
      <ul>
        {archived?.map((each) => (
          <li key={each.id}>
            <Link to={`/classes/${each.id}`} className="text-plum underline-offset-2 hover:underline">
              {each.name}
            </Link>
          </li>
        ))}
      </ul>
    </details>
  );
}

export function Taught({ rows, caption }: { rows: readonly Row[]; caption: string }) {
  return (
    <Table caption={caption} heads={["Exercise", "Due", "Submitted", "Passed", ""]}>
      {rows.map((row) => (
        <tr key={row.assignment} className="border-b border-hairline">
          <TitleCell to={`/assignments/${row.assignment}`} title={row.title} under={row.class_name} />
          <DueCell due={row.due_at} />
          <Cell>
            <span className="font-mono">
              {row.submitted} of {row.students}
            </span>
          </Cell>
          <Cell>
            <span className="font-mono">{row.passed}</span>
          </Cell>
          <Cell right>
            <ActionLink to={`/assignments/${row.assignment}`}>See submissions</ActionLink>
          </Cell>
        </tr>
      ))}
    </Table>
  );
}
