// A class as a grid: students by what is set, live. One cell at a time has the focus; the arrows move it.
import { useQueryClient } from "@tanstack/react-query";
import { type KeyboardEvent, memo, useCallback, useDeferredValue, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import type { Board, BoardCell } from "../api/types";
import { ExceptionDialog } from "../assignments/ExceptionDialog";
import { exceptionWords } from "../assignments/exceptionWords";
import { ClassNav } from "../people/ClassNav";
import { entry } from "../ui/lists";
import { NotFound } from "../ui/NotFound";
import { counted, dateTime, percent, short } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button } from "../ui/parts";
import { HeadTools } from "../ui/Shell";
import { ActionLink } from "../ui/table";
import { useNumber } from "../ui/useNumber";
import { cellsOf, type Standing, signs, standingOf, withChanges, words } from "./cells";
import { MarksMenu } from "./MarksMenu";
import { useLive } from "./useLive";
import { WeightsDialog } from "./WeightsDialog";

// Also without being told: a process that is killed may take with it that it had something to tell.
const WHOLE_MS = 120_000;

export function Component() {
  const number = useNumber("class");
  return number === null ? <NotFound /> : <LiveBoard key={number} number={number} />;
}

function LiveBoard({ number }: { number: number }) {
  const cache = useQueryClient();
  const key = ["board", number];
  const { live, opened } = useLive(
    number,
    () => void cache.invalidateQueries({ queryKey: key }),
    (changed) => cache.setQueryData<Board>(key, (old) => old && withChanges(old, changed)),
  );
  return (
    <Page
      what="board"
      by="class"
      kept="while open"
      again={() => WHOLE_MS}
      load={(class_) => opened().then(() => api.board(class_))}
      title={(board) => board?.name ?? "Board"}
      waiting="Loading the board…"
    >
      {(board) => <BoardScreen board={board} live={live} />}
    </Page>
  );
}

function BoardScreen({ board, live }: { board: Board; live: boolean }) {
  const cache = useQueryClient();
  const key = ["board", board.class_id];
  const again = () => cache.invalidateQueries({ queryKey: key });
  const [weighing, setWeighing] = useState(false);
  const [left, setLeft] = useState(false);
  const rows = board.rows.filter((row) => left || !row.left);
  const gone = board.rows.length - board.rows.filter((row) => !row.left).length;
  return (
    <>
      <HeadTools>
        {!board.archived && board.columns.length > 0 && (
          <Button onClick={() => setWeighing(true)}>Weights</Button>
        )}
        <MarksMenu class={board.class_id} />
      </HeadTools>
      <ClassNav class={board.class_id} />
      <main className="flex min-h-0 flex-1 flex-col px-6 py-4">
        {board.rows.length === 0 || board.columns.length === 0 ? (
          <Empty board={board} />
        ) : (
          <>
            <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-sm text-ink-soft">
              <span role="status">
                {live ? (
                  <>
                    <span aria-hidden className="text-pass">
                      ●
                    </span>{" "}
                    Live
                  </>
                ) : (
                  "○ No connection; the board may be out of date"
                )}
              </span>
              <span>✓ passed</span>
              <span>✕ not passed</span>
              <span>✎ working now</span>
              <span>
                <b className="text-plum">•</b> not reviewed
              </span>
              <span>* exception</span>
              {board.archived && <span className="font-semibold">Archived: nothing can be changed</span>}
              {gone > 0 && (
                <button type="button" className="underline" onClick={() => setLeft(!left)}>
                  {left ? "Hide former students" : `Show ${counted(gone, "former student")}`}
                </button>
              )}
            </div>
            <Grid board={board} rows={rows} onChanged={() => void again()} />
          </>
        )}
      </main>
      {weighing && (
        <WeightsDialog
          board={board}
          onClose={() => setWeighing(false)}
          onSaved={() => void again().then(() => setWeighing(false))}
        />
      )}
    </>
  );
}

function Empty({ board }: { board: Board }) {
  return (
    <div className="py-6">
      {board.rows.length === 0 && (
        <p className="mb-4">
          Nobody is in this class yet.{" "}
          <ActionLink to={`/classes/${board.class_id}/people`} main>
            Add people
          </ActionLink>
        </p>
      )}
      {board.columns.length === 0 && (
        <p>
          Nothing is assigned to this class yet.{" "}
          <ActionLink to="/workshop" main={board.rows.length > 0}>
            Choose an exercise
          </ActionLink>
        </p>
      )}
    </div>
  );
}

const IN_SIGHT = 30;

type GridProps = { board: Board; rows: Board["rows"]; onChanged: () => void };
type At = { row: number; column: number }; // −1 is the head

function Grid({ board, rows, onChanged }: GridProps) {
  const cells = useMemo(() => cellsOf(board), [board]);
  // Of a large class what is in sight is drawn first, and the rest right after it.
  const drawn = useDeferredValue(rows, rows.slice(0, IN_SIGHT));
  const [at, setAt] = useState<At>({ row: 0, column: 0 });
  const table = useRef<HTMLTableElement>(null);
  const navigate = useNavigate();
  const [excepting, setExcepting] = useState<At | null>(null);
  const last = board.columns.length; // the total
  const open = useCallback(
    ({ row, column }: At) => {
      const [student, item] = [rows[row], board.columns[column]];
      if (column === last) return;
      const newest = student && item && cells.get(student.person)?.get(item.assignment)?.newest;
      if (newest) navigate(`/result/${newest}`);
      else if (student && !item) navigate(`/classes/${board.class_id}/students/${student.person}`);
      else if (item && !student) navigate(`/assignments/${item.assignment}`);
    },
    [rows, board, cells, navigate, last],
  );
  const chosen = board.archived ? null : chosenOf(board, rows, at);
  const go = (to: At) => {
    const row = Math.max(-1, Math.min(rows.length - 1, to.row));
    const column = Math.max(row === -1 ? 0 : -1, Math.min(last, to.column));
    setAt({ row, column });
    table.current?.querySelector<HTMLElement>(`[data-at="${row} ${column}"]`)?.focus();
  };
  const typed = (event: KeyboardEvent) => {
    const { row, column } = at;
    const ends = event.ctrlKey ? { first: -1, last: rows.length - 1 } : { first: row, last: row };
    const to: Record<string, At> = {
      ArrowRight: { row, column: column + 1 },
      ArrowLeft: { row, column: column - 1 },
      ArrowDown: { row: row + 1, column },
      ArrowUp: { row: row - 1, column },
      PageDown: { row: row + 10, column },
      PageUp: { row: Math.max(0, row - 10), column },
      Home: { row: ends.first, column: -1 },
      End: { row: ends.last, column: last },
    };
    if (event.key === "Enter" || event.key === " ") open(at);
    else if (event.key === "e" && chosen && !event.ctrlKey && !event.metaKey) setExcepting(at);
    else if (to[event.key]) go(entry(to, event.key));
    else return;
    event.preventDefault();
  };
  const placeOf = (target: EventTarget): At | null => {
    const found = (target as HTMLElement).closest<HTMLElement>("[data-at]")?.dataset.at?.split(" ");
    return found ? { row: Number(found[0]), column: Number(found[1]) } : null;
  };
  const asked = excepting && chosenOf(board, rows, excepting);
  return (
    <>
      <p className="mb-2 flex h-8 items-center gap-3 text-sm text-ink-soft">
        {chosen ? (
          <>
            <Button aria-keyshortcuts="e" onClick={() => setExcepting(at)}>
              Exception (E)
            </Button>
            {chosen.student.name}, {chosen.item.title}
            {chosen.exception && `: ${exceptionWords(chosen.exception)}`}
            {chosen.exception?.reason && ` (${chosen.exception.reason})`}
          </>
        ) : (
          !board.archived && "Move to a cell to give its student an exception."
        )}
      </p>
      {asked && (
        <ExceptionDialog
          assignment={asked.item.assignment}
          title={asked.item.title}
          zone={board.time_zone}
          student={asked.student}
          others={rows.filter((row) => !row.left && row.person !== asked.student.person)}
          exception={asked.exception}
          onClose={() => setExcepting(null)}
          onSaved={() => {
            setExcepting(null);
            onChanged();
          }}
        />
      )}
      <div className="max-h-full min-h-0 w-fit max-w-full overflow-auto rounded-md border border-b-0 border-hairline bg-sheet">
        <table
          ref={table}
          // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: a grid is a table that keys move in
          role="grid"
          aria-label={`${board.name}: marks`}
          aria-rowcount={rows.length + 1}
          aria-colcount={board.columns.length + 2}
          className="border-separate border-spacing-0"
          onKeyDown={typed}
          onFocus={(event) => {
            const place = placeOf(event.target);
            if (place && (place.row !== at.row || place.column !== at.column)) setAt(place);
          }}
          onClick={(event) => {
            const place = placeOf(event.target);
            if (place) open(place);
          }}
        >
          <thead>
            <tr>
              <th
                scope="col"
                className="sticky top-0 left-0 z-20 min-w-44 border-r border-b border-hairline bg-sheet px-3 text-left text-sm font-normal text-ink-soft"
              >
                Student
              </th>
              {board.columns.map((item, column) => (
                <th
                  key={item.assignment}
                  scope="col"
                  data-at={`-1 ${column}`}
                  tabIndex={at.row === -1 && at.column === column ? 0 : -1}
                  className="sticky top-0 z-10 max-w-28 min-w-24 cursor-pointer border-b border-hairline bg-sheet px-2 py-1.5 text-left align-bottom text-sm leading-tight font-semibold hover:bg-well focus:outline-2 focus:-outline-offset-2 focus:outline-plum"
                >
                  {item.title}
                  <span className="block font-normal text-ink-soft">
                    {dateTime(item.due_at).split(",")[0]}
                    {item.weight !== 1 && `, weight ${short(item.weight)}`}
                  </span>
                </th>
              ))}
              <th
                scope="col"
                data-at={`-1 ${last}`}
                tabIndex={at.row === -1 && at.column === last ? 0 : -1}
                className="sticky top-0 right-0 z-20 min-w-16 border-b border-l border-hairline bg-sheet px-2 py-1.5 text-right align-bottom text-sm font-semibold focus:outline-2 focus:-outline-offset-2 focus:outline-plum"
              >
                Total
              </th>
            </tr>
          </thead>
          <tbody>
            {drawn.map((student, row) => (
              <Row
                key={student.person}
                student={student}
                row={row}
                columns={board.columns}
                cells={cells.get(student.person)}
                focused={at.row === row ? at.column : null}
                now={board.now}
              />
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

/** The student, the assignment and the exception of a cell. */
function chosenOf(board: Board, rows: Board["rows"], { row, column }: At) {
  const [student, item] = [rows[row], board.columns[column]];
  if (!student || !item || student.left) return null;
  const cell = board.cells.find(
    (each) => each.person === student.person && each.assignment === item.assignment,
  );
  return { student, item, exception: cell?.exception ?? null };
}

type RowProps = {
  student: Board["rows"][number];
  row: number;
  columns: Board["columns"];
  cells: ReadonlyMap<number, BoardCell> | undefined;
  focused: number | null;
  now: string;
};

const LOOKS: Record<Standing, string> = {
  none: "",
  started: "text-ink-soft",
  working: "bg-plum-soft text-ink",
  passed: "text-pass",
  failed: "text-fail",
};
const CELL =
  "border-b border-hairline px-2 py-1 focus:outline-2 focus:-outline-offset-2 focus:outline-plum whitespace-nowrap";

/** Renders again only if something in it changed, however many rows there are. */
const Row = memo(function Row({ student, row, columns, cells, focused, now }: RowProps) {
  return (
    <tr>
      <th
        scope="row"
        data-at={`${row} -1`}
        tabIndex={focused === -1 ? 0 : -1}
        className={`${CELL} sticky left-0 z-10 cursor-pointer border-r bg-sheet px-3 text-left font-semibold hover:bg-well`}
      >
        {student.name}
        {student.left && <span className="font-normal text-ink-soft"> (left)</span>}
      </th>
      {columns.map((item, column) => {
        const cell = cells?.get(item.assignment);
        const standing = standingOf(cell, now);
        return (
          <td
            key={item.assignment}
            data-at={`${row} ${column}`}
            tabIndex={focused === column ? 0 : -1}
            aria-label={`${item.title}: ${words(cell, standing)}`}
            className={`${CELL} ${LOOKS[standing]} ${cell?.newest ? "cursor-pointer hover:bg-well" : ""}`}
          >
            {cell && (
              <>
                {cell.exception?.excused && cell.attempts === 0 ? (
                  <span className="text-ink-soft">excused</span>
                ) : (
                  standing !== "none" && (
                    <span className="font-mono whitespace-pre">{signs(cell, standing)}</span>
                  )
                )}
                {cell.attempts > 1 && <span className="ml-1 text-sm text-ink-soft">×{cell.attempts}</span>}
                {cell.late && <span className="ml-1 text-sm font-semibold text-near">late</span>}
                {cell.attempts > 0 && !cell.reviewed && <b className="ml-1 text-plum">•</b>}
                {cell.exception &&
                  (cell.exception.excused && cell.attempts > 0 ? (
                    <span className="ml-1 text-sm text-ink-soft">excused</span>
                  ) : (
                    <b className="ml-1">*</b>
                  ))}
              </>
            )}
          </td>
        );
      })}
      <td
        data-at={`${row} ${columns.length}`}
        tabIndex={focused === columns.length ? 0 : -1}
        aria-label={student.total === null ? "Total: nothing counts yet" : `Total: ${percent(student.total)}`}
        className={`${CELL} sticky right-0 border-l bg-sheet text-right font-mono font-semibold`}
      >
        {percent(student.total)}
      </td>
    </tr>
  );
}, sameRow);

/** now moves with every change; what hangs on it is only who is at work. */
function sameRow(before: RowProps, after: RowProps): boolean {
  const same = (["student", "row", "columns", "focused"] as const).every(
    (name) => before[name] === after[name],
  );
  if (!same) return false;
  const [was, is] = [before.cells, after.cells];
  if (was?.size !== is?.size) return false;
  for (const [assignment, cell] of is ?? []) {
    if (was?.get(assignment) !== cell) return false;
    if (cell.at_work && standingOf(cell, before.now) !== standingOf(cell, after.now)) return false;
  }
  return true;
}
