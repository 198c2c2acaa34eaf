// A student's parts of the start page.
import { Link } from "react-router";
import type { Home } from "../api/types";
import { dateTime, fromNow, percent } from "../ui/numbers";
import { Heading } from "../ui/parts";
import { ActionLink, Cell, DueCell, Table, TitleCell } from "../ui/table";
import { Mark, stateWords } from "../ui/work";
import { DropRow, SubmitFileButton, UploadProgress } from "../work/FileChooser";
import { useUploads } from "../work/useUploads";
import { lateNote } from "./lateNote";

type Row = Home["to_do"][number];

/** What to do next: what is half done and due first, else what is open and due first. */
export function nextOf(rows: readonly Row[], now: Date): Row | null {
  const open = rows.filter(
    (row) =>
      row.opens_at === null &&
      !row.archived &&
      !row.excused &&
      new Date(row.due_at) > now &&
      row.work.state !== "submitted" &&
      row.attempts_left !== 0,
  );
  const first = (some: readonly Row[]) =>
    [...some].sort((a, b) => new Date(a.due_at).getTime() - new Date(b.due_at).getTime())[0] ?? null;
  return first(open.filter((row) => row.work.state === "started")) ?? first(open);
}

export function NextUp({ row }: { row: Row }) {
  const begun = row.work.state === "started";
  return (
    <section
      aria-label="What to do next"
      className="flex flex-wrap items-center gap-6 rounded-lg border border-hairline bg-sheet p-5"
    >
      <img
        src={`/api/assignments/${row.assignment}/drawing`}
        alt="Start and target"
        className="h-28 w-80 max-w-full object-contain"
      />
      <div className="min-w-60 flex-1">
        <p className="text-sm text-ink-soft">{begun ? "In progress" : "Next"}</p>
        <h2 className="text-lg font-semibold">{row.title}</h2>
        <p className="mb-3 text-ink-soft">
          Due {dateTime(row.due_at)} ({fromNow(row.due_at, new Date())})
          {row.attempts_left !== null &&
            `, ${row.attempts_left === 1 ? "one attempt" : `${row.attempts_left} attempts`} left`}
        </p>
        <Link
          to={`/bench/${row.assignment}`}
          className="inline-flex h-10 items-center rounded-md border border-plum bg-plum px-5 font-semibold text-on-plum hover:opacity-90"
        >
          {begun ? "Continue" : "Start"}
        </Link>
      </div>
    </section>
  );
}

const WHAT: Record<string, string> = {
  remark: "New remark on",
  mark: "Your mark was changed in",
  "re-checked": "Re-checked:",
  "settings changed": "Settings changed:",
  "exception changed": "Changed for you in",
};

export function News({ rows }: { rows: Home["news"] }) {
  if (rows.length === 0) return null;
  return (
    <section aria-label="What changed">
      <Heading>What changed</Heading>
      <ul className="space-y-1">
        {rows.map((row) => (
          <li key={`${row.what} ${row.assignment} ${row.at}`} className="flex gap-4">
            <span className="w-36 shrink-0 text-ink-soft">{dateTime(row.at)}</span>
            <span>
              {WHAT[row.what]}{" "}
              <Link
                to={row.submission === null ? `/bench/${row.assignment}` : `/result/${row.submission}`}
                className="text-plum underline underline-offset-2"
              >
                {row.title}
              </Link>
              {row.text && `: ${row.text}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

export function ToDo({ rows, caption }: { rows: readonly Row[]; caption: string }) {
  const files = useUploads();
  return (
    <div>
      <UploadProgress files={files} />
      <Table caption={caption} heads={["Exercise", "Due", "State", "Mark", ""]}>
        {rows.map((row) => (
          <DropRow key={row.assignment} onFile={(file) => files.send(row.assignment, file)}>
            <TitleCell
              to={row.archived ? `/result/${row.work.newest_submission}` : `/bench/${row.assignment}`}
              title={row.title}
              under={row.class_name}
            />
            <DueCell
              due={row.due_at}
              note={[row.own_due && "your due date", lateNote(row.late_policy)].filter(Boolean).join("; ")}
            />
            <Cell>
              {stateWords(row.work)}
              {row.excused && <div className="text-sm text-ink-soft">excused: left out of the total</div>}
              {row.attempts_left !== null && (
                <div className="text-sm text-ink-soft">
                  {row.attempts_left === 0 ? "no attempt left" : `${row.attempts_left} left`}
                </div>
              )}
            </Cell>
            <Cell>
              {row.mark_shown ? (
                <Mark work={row.work} />
              ) : (
                <span className="text-ink-soft">{row.work.attempts > 0 ? "feedback when due" : "–"}</span>
              )}
            </Cell>
            <Cell right>
              {row.work.newest_submission !== null && (
                <ActionLink to={`/result/${row.work.newest_submission}`} main={row.work.passed}>
                  See result
                </ActionLink>
              )}
              {!row.archived && (
                <>
                  <span className="ml-2 inline-block">
                    <SubmitFileButton about={row.title} onFile={(file) => files.send(row.assignment, file)} />
                  </span>
                  <ActionLink to={`/sheet/${row.assignment}`}>Sheet</ActionLink>
                  <ActionLink to={`/bench/${row.assignment}`} main={!row.work.passed}>
                    {row.work.state === "not started" ? "Start" : "Continue"}
                  </ActionLink>
                </>
              )}
            </Cell>
          </DropRow>
        ))}
      </Table>
    </div>
  );
}

/** The student's total in each class. */
export function Totals({ rows }: { rows: Home["totals"] }) {
  const known = rows.filter((row) => row.total !== null);
  if (known.length === 0) return null;
  return (
    <section aria-label="Your total">
      <Heading>Your total so far</Heading>
      <ul>
        {known.map((row) => (
          <li key={row.class_id}>
            <span className="font-mono font-semibold">{percent(row.total)}</span> in {row.class_name}
          </li>
        ))}
      </ul>
    </section>
  );
}

export function ToCome({ rows }: { rows: readonly Row[] }) {
  return (
    <Table caption="Upcoming" heads={["Exercise", "Opens", "Due"]}>
      {rows.map((row) => (
        <tr key={row.assignment} className="border-b border-hairline">
          <Cell>
            {row.title}
            <div className="text-sm text-ink-soft">{row.class_name}</div>
          </Cell>
          <DueCell due={row.opens_at!} />
          <DueCell due={row.due_at} />
        </tr>
      ))}
    </Table>
  );
}

export function Past({ rows }: { rows: readonly Row[] }) {
  const passed = rows.filter((row) => row.work.passed).length;
  return (
    <details>
      <summary className="cursor-pointer text-ink-soft">
        {rows.length} past, {passed} of them passed
      </summary>
      <div className="mt-3">
        <ToDo rows={rows} caption="Past" />
      </div>
    </details>
  );
}
