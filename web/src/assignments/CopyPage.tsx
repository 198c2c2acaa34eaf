// A class copied for a new term: which assignments, which versions, and their shifted dates, before anything is made.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import type { CopyPlan } from "../api/types";
import { ClassNav } from "../people/ClassNav";
import { classTrail } from "../ui/Crumbs";
import { Field, TextField } from "../ui/fields";
import { NotFound } from "../ui/NotFound";
import { counted } from "../ui/numbers";
import { Button, NoPage, Tick, Waiting } from "../ui/parts";
import { Select } from "../ui/Select";
import { Shell } from "../ui/Shell";
import { Cell, Table } from "../ui/table";
import { useNumber } from "../ui/useNumber";
import { nextMonday } from "./nextMonday";

export function Component() {
  const number = useNumber("class");
  const [firstDay, setFirstDay] = useState(() => nextMonday(new Date()));
  const [name, setName] = useState<string | null>(null);
  const found = useQuery({
    queryKey: ["copy", number, firstDay],
    queryFn: () => api.copyPlan(number ?? 0, firstDay),
    enabled: number !== null && firstDay !== "",
    placeholderData: (before) => before, // so that nothing jumps while another first day is chosen
    gcTime: 0,
  });
  if (number === null) return <NotFound />;
  const plan = found.data;
  return (
    <Shell
      title="Copy class"
      trail={plan ? classTrail({ class_id: plan.class_id, class_name: plan.name }) : []}
    >
      {plan ? (
        <>
          <ClassNav class={plan.class_id} />
          <main className="mx-auto w-full max-w-6xl flex-1 overflow-y-auto px-6 py-6">
            <p className="mb-4 text-ink-soft">
              Assignments are copied with their settings; people and their work are not. All dates shift by{" "}
              {counted(plan.weeks, "week")}, in the time zone of the class ({plan.time_zone}).
            </p>
            <div className="mb-4 grid max-w-2xl grid-cols-2 gap-x-4 max-sm:grid-cols-1">
              <TextField
                label="Name of the new class"
                value={name ?? copyName(plan)}
                most={200}
                onChange={setName}
              />
              <Field label="First day">
                <input
                  type="date"
                  aria-label="First day"
                  value={firstDay}
                  onChange={(event) => setFirstDay(event.target.value)}
                  className="h-8 w-full rounded-md border border-edge bg-sheet px-2"
                />
              </Field>
            </div>
            <CopyForm
              key={`${plan.class_id} ${plan.weeks}`}
              plan={plan}
              name={(name ?? copyName(plan)).trim()}
            />
          </main>
        </>
      ) : found.error ? (
        <NoPage error={found.error} retry={() => found.refetch()} />
      ) : (
        <Waiting what="Loading the assignments…" />
      )}
    </Shell>
  );
}

const copyName = (plan: CopyPlan) => `${plan.name} (copy)`;

type Row = CopyPlan["rows"][number];
type Edited = { on: boolean; version: number; opens: string; due: string };

const asPlanned = (row: Row): Edited => ({
  on: true,
  version: row.version.version,
  opens: row.opens ?? "",
  due: row.due,
});

/** The table of assignments to copy; another first day resets it. */
function CopyForm({ plan, name }: { plan: CopyPlan; name: string }) {
  const [rows, setRows] = useState(() => plan.rows.map(asPlanned));
  const [problem, setProblem] = useState("");
  const navigate = useNavigate();
  const cache = useQueryClient();
  const set = (at: number, part: Partial<Edited>) =>
    setRows(rows.map((row, i) => (i === at ? { ...row, ...part } : row)));
  const chosen = rows.filter((row) => row.on).length;
  const newer = plan.rows.some((row) => row.newest.number > row.version.number);
  const create = () =>
    void api
      .copyClass(plan.class_id, {
        name,
        rows: plan.rows.flatMap((row, i) => {
          const { on, version, opens, due } = rows[i]!;
          return on ? [{ assignment: row.assignment, version, opens: opens || null, due }] : [];
        }),
      })
      .then(({ id }) => {
        for (const queryKey of [["home"], ["classes"]]) cache.removeQueries({ queryKey });
        navigate(`/classes/${id}/people`);
      })
      .catch((error: Error) => setProblem(error.message));
  return (
    <>
      {newer && (
        <p className="mb-2">
          <Button
            onClick={() => setRows(rows.map((row, i) => ({ ...row, version: plan.rows[i]!.newest.version })))}
          >
            Use the newest versions
          </Button>
        </p>
      )}
      <Table caption="Assignments" heads={["", "Exercise", "Version", "Opens", "Due"]}>
        {plan.rows.map((row, i) => (
          <tr key={row.assignment} className="border-b border-hairline">
            <Cell>
              <Tick
                id={`copy ${row.assignment}`}
                text=""
                label={`Copy ${row.title}`}
                on={rows[i]!.on}
                onChange={(on) => set(i, { on })}
              />
            </Cell>
            <Cell>{row.title}</Cell>
            <Cell>
              <Version row={row} value={rows[i]!.version} onChange={(version) => set(i, { version })} />
            </Cell>
            <DateCell
              label={`${row.title} opens`}
              value={rows[i]!.opens}
              onChange={(opens) => set(i, { opens })}
            />
            <DateCell
              label={`${row.title} is due`}
              value={rows[i]!.due}
              onChange={(due) => set(i, { due })}
            />
          </tr>
        ))}
      </Table>
      {problem && (
        <p role="alert" className="mt-3 text-fail">
          {problem}
        </p>
      )}
      <Button
        look="main"
        className="mt-4"
        disabled={!name || rows.some((row) => row.on && !row.due)}
        onClick={create}
      >
        Create class with {counted(chosen, "assignment")}
      </Button>
    </>
  );
}

type VersionProps = { row: Row; value: number; onChange: (version: number) => void };

function Version({ row, value, onChange }: VersionProps) {
  if (row.newest.version === row.version.version) return row.version.number;
  return (
    <Select
      label={`Version of ${row.title}`}
      value={String(value)}
      options={[
        { value: String(row.version.version), text: `${row.version.number} (the same)` },
        { value: String(row.newest.version), text: `${row.newest.number} (newest)` },
      ]}
      onChange={(next) => onChange(Number(next))}
    />
  );
}

type DateCellProps = { label: string; value: string; onChange: (value: string) => void };

function DateCell({ label, value, onChange }: DateCellProps) {
  return (
    <Cell>
      <input
        type="datetime-local"
        aria-label={label}
        value={value.slice(0, 16)}
        onChange={(event) => onChange(event.target.value)}
        className="h-7 rounded-md border border-edge bg-sheet px-1.5"
      />
    </Cell>
  );
}
