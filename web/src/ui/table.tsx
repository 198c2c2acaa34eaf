// Tables of people and exercises.
import type { ReactNode } from "react";
import { Link } from "react-router";
import { dateTime, fromNow } from "./numbers";
import type { Sort } from "./useSort";

type TableProps = {
  caption: string;
  heads: readonly string[];
  children: ReactNode;
  /** The columns that can be sorted by, of `heads`. */
  sort?: Sort & { heads: readonly string[]; onSort: (head: string) => void };
};

export function Table({ caption, heads, children, sort }: TableProps) {
  return (
    <table className="w-full border-collapse">
      <caption className="mb-2 text-left text-sm font-semibold text-ink-soft">{caption}</caption>
      <thead>
        <tr className="border-y border-hairline text-left text-sm text-ink-soft">
          {heads.map((head, i) => (
            <th
              key={head || i}
              scope="col"
              aria-sort={sort?.by === head ? (sort.down ? "descending" : "ascending") : undefined}
              className="px-2 py-1 font-normal"
            >
              {sort?.heads.includes(head) ? (
                <button
                  type="button"
                  onClick={() => sort.onSort(head)}
                  className="rounded-sm px-1 py-0.5 -ml-1 hover:bg-well hover:text-ink"
                >
                  {head} <span aria-hidden>{sort.by === head ? (sort.down ? "▼" : "▲") : ""}</span>
                </button>
              ) : (
                head.trim() || <span className="sr-only">{i === 0 ? "Selected" : "Actions"}</span>
              )}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </table>
  );
}

/** A cell of a row of 32 pixels. */
export function Cell({ children, right = false }: { children: ReactNode; right?: boolean }) {
  return (
    <td
      className={`h-8 px-2 py-0.5 align-middle ${right ? "text-right whitespace-nowrap max-md:leading-10 max-md:whitespace-normal" : ""}`}
    >
      {children}
    </td>
  );
}

export function DueCell({ due, note }: { due: string; note?: string }) {
  return (
    <Cell>
      {dateTime(due)}
      <span className="ml-2 text-sm text-ink-soft">{fromNow(due, new Date())}</span>
      {note && <div className="text-sm text-ink-soft">{note}</div>}
    </Cell>
  );
}

export function ActionLink({
  to,
  main = false,
  children,
}: {
  to: string;
  main?: boolean;
  children: ReactNode;
}) {
  const look = main ? "bg-plum text-on-plum border-plum font-semibold" : "border-edge bg-sheet hover:bg-well";
  return (
    <Link
      to={to}
      className={`ml-2 inline-flex h-7 items-center rounded-md border px-3 whitespace-nowrap ${look}`}
    >
      {children}
    </Link>
  );
}

/** An exercise, with the class it is assigned to. */
export function TitleCell({ to, title, under }: { to: string; title: string; under: string }) {
  return (
    <Cell>
      <Link to={to} className="text-plum font-semibold underline-offset-2 hover:underline">
        {title}
      </Link>
      <span className="ml-2 text-sm text-ink-soft">{under}</span>
    </Cell>
  );
}
