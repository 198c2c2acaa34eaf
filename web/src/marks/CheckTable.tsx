// Every check down to the number: target, submitted, difference, tolerance, points, verdict.
import type { CheckResult, Result } from "../api/types";
import { type Row, rowsOf } from "../ui/checks";
import { fixed, placesFor, short, signed } from "../ui/numbers";
import { VerdictMark } from "../ui/parts";
import { Points } from "./Review";

type Props = { result: Result; lit: string | null; onLight: (id: string | null) => void };

const HEADS = ["", "Target", "Submitted", "Difference", "Tolerance"];

export function CheckTable({ result, lit, onLight }: Props) {
  return (
    <table className="w-full border-collapse">
      <caption className="sr-only">Checks</caption>
      <thead>
        <tr className="border-b border-hairline text-sm text-ink-soft">
          <th scope="col" className="py-1 pr-2 text-left font-normal whitespace-nowrap">
            Check
          </th>
          {HEADS.map((head) => (
            <th
              key={head}
              scope="col"
              className="px-2 max-[1180px]:px-1 py-1 text-right font-normal whitespace-nowrap"
            >
              {head || <span className="sr-only">Axis</span>}
            </th>
          ))}
          <th scope="col" className="px-2 max-[1180px]:px-1 py-1 text-right font-normal whitespace-nowrap">
            Points
          </th>
          <th scope="col" className="py-1 pl-2 text-left font-normal whitespace-nowrap">
            Verdict
          </th>
        </tr>
      </thead>
      {result.report.checks.map((check) => (
        <CheckRows key={check.id} result={result} check={check} lit={lit === check.id} onLight={onLight} />
      ))}
    </table>
  );
}

type RowsProps = { result: Result; check: CheckResult; lit: boolean; onLight: Props["onLight"] };

function CheckRows({ result, check, lit, onLight }: RowsProps) {
  const rows = rowsOf(check);
  const height = Math.max(rows.length, 1);
  const light = () => onLight(check.id);
  return (
    <tbody
      onMouseEnter={light}
      onMouseLeave={() => onLight(null)}
      className={`border-b border-hairline ${lit ? "bg-plum-soft" : ""}`}
    >
      {(rows.length > 0 ? rows : [null]).map((row, i) => (
        <tr key={row?.axis ?? "gone"} className="*:pt-1.5 last:*:pb-1.5">
          {i === 0 && (
            <th
              scope="rowgroup"
              rowSpan={height}
              className="wrap-break-word pr-2 text-left align-top font-normal"
            >
              <button type="button" onFocus={light} onClick={light} className="text-left font-semibold">
                {check.label}
              </button>
              {check.space && <div className="text-sm text-ink-soft">in {check.space}</div>}
            </th>
          )}
          {row ? (
            <NumberCells row={row} unit={check.unit} />
          ) : (
            <td colSpan={5}>{check.kind === "by-hand" ? check.wanted : check.text}</td>
          )}
          {i === 0 && (
            <>
              <td rowSpan={height} className="px-2 max-[1180px]:px-1 text-right align-top">
                <Points result={result} check={check} />
              </td>
              <td rowSpan={height} className="pl-2 align-top">
                {check.kind === "by-hand" && result.points_set[check.id] !== undefined ? (
                  "By hand"
                ) : (
                  <VerdictMark verdict={check.verdict} />
                )}
              </td>
            </>
          )}
        </tr>
      ))}
    </tbody>
  );
}

function NumberCells({ row, unit }: { row: Row; unit: string }) {
  const places = placesFor(row.tolerance);
  const number = (value: number | null) => (value === null ? "–" : fixed(value, places));
  const outside = Math.abs(row.difference) > row.tolerance;
  const cell = "px-2 max-[1180px]:px-1 text-right align-top font-mono whitespace-nowrap";
  return (
    <>
      <td className={cell}>{row.axis}</td>
      <td className={cell}>{number(row.target)}</td>
      <td className={cell}>{number(row.submitted)}</td>
      <td className={`${cell} ${outside ? "font-bold text-fail" : ""}`}>
        {row.target === null ? number(row.difference) : signed(row.difference, places)}
      </td>
      <td className={`${cell} text-ink-soft`}>
        ± {short(row.tolerance)} {unit}
      </td>
    </>
  );
}
