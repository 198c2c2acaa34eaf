// What a cell of the board says, in signs and in words.
import type { Board, BoardCell, ChangedCells } from "../api/types";
import { exceptionWords } from "../assignments/exceptionWords";
import { counted, percent } from "../ui/numbers";

const NOW_MS = 5 * 60_000;

export type Standing = "none" | "started" | "working" | "passed" | "failed";

export function standingOf(cell: BoardCell | undefined, now: string): Standing {
  if (!cell) return "none";
  if (cell.at_work && new Date(now).getTime() - new Date(cell.at_work).getTime() < NOW_MS) return "working";
  if (cell.attempts === 0) return cell.at_work ? "started" : "none";
  return cell.passed ? "passed" : "failed";
}

const inPlace = (cell: BoardCell): string =>
  cell.checks === null ? "" : `${cell.in_place ?? 0}/${cell.checks}`;

/** In signs: what stands in the cell. */
export function signs(cell: BoardCell, standing: Standing): string {
  const mark = `${(cell.score === null ? "–" : percent(cell.score)).padStart(4)} ${cell.passed ? "✓" : "✕"}`;
  if (standing === "working") return `${cell.attempts > 0 ? mark : ""} ✎ ${inPlace(cell)}`.trim();
  return standing === "started" ? `started ${inPlace(cell)}`.trim() : mark;
}

/** In words: what is read out. */
export function words(cell: BoardCell | undefined, standing: Standing): string {
  if (!cell) return "not started";
  const done =
    cell.attempts === 0
      ? standing === "none"
        ? "not started"
        : "not submitted"
      : `${cell.score === null ? "no mark counts" : percent(cell.score)}, ${cell.passed ? "passed" : "not passed"}, ${cell.attempts === 1 ? "1 attempt" : `${cell.attempts} attempts`}`;
  return [
    done,
    cell.late && "late",
    standing === "working" && "working now",
    standing === "started" && "started",
    cell.checks !== null && `${cell.in_place ?? 0} of ${counted(cell.checks, "check")} in place`,
    cell.attempts > 0 && !cell.reviewed && "not reviewed",
    cell.exception && exceptionWords(cell.exception),
  ]
    .filter(Boolean)
    .join(", ");
}

export type Cells = ReadonlyMap<number, ReadonlyMap<number, BoardCell>>;

/** By student, then by what is set. */
export function cellsOf(board: Board): Cells {
  const found = new Map<number, Map<number, BoardCell>>();
  for (const cell of board.cells) {
    const row = found.get(cell.person) ?? new Map<number, BoardCell>();
    row.set(cell.assignment, cell);
    found.set(cell.person, row);
  }
  return found;
}

/** The board with some cells and totals as they are now. */
export function withChanges(board: Board, { cells: changed, totals, now }: ChangedCells): Board {
  const total = new Map(totals.map((each) => [each.person, each.total]));
  const rows = board.rows.map((row) => {
    const next = total.get(row.person);
    return next === undefined || next === row.total ? row : { ...row, total: next };
  });
  const key = (cell: BoardCell) => `${cell.person} ${cell.assignment}`;
  const keys = new Set(changed.map(key));
  return { ...board, rows, cells: [...board.cells.filter((cell) => !keys.has(key(cell))), ...changed], now };
}
