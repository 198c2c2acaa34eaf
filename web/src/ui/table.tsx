// Tables of people and exercises.
import type { ReactNode } from "react";
import { Link } from "react-router";
import { dateTime, fromNow } from "./numbers";

export function Table({
  caption,
  heads,
  children,
}: {
  caption: string;
  heads: string[];
  children: ReactNode;
}) {
  return (
    <table className="w-full border-collapse">
      <caption className="mb-2 text-left text-sm font-semibold text-ink-soft">{caption}</caption>
      <thead>
        <tr className="border-y border-hairline text-left text-sm text-ink-soft">
          {heads.map((head, i) => (
            <th key={head || i} scope="col" className="px-2 py-1.5 font-normal">
              {head || <span className="sr-only">Actions</span>}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </table>
  );
}

export function Cell({ children, right = false }: { children: ReactNode; right?: boolean }) {
  return (
    <td
      className={`px-2 py-2 align-middle ${right ? "text-right whitespace-nowrap max-md:leading-10 max-md:whitespace-normal" : ""}`}
    >
      {children}
    </td>
  );
}

export function DueCell({ due }: { due: string }) {
  return (
    <Cell>
      {dateTime(due)}
      <div className="text-sm text-ink-soft">{fromNow(due, new Date())}</div>
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
    <Link to={to} className={`ml-2 inline-flex h-8 items-center rounded-md border px-3 ${look}`}>
      {children}
    </Link>
  );
}

/** An exercise, with the class it is set for. */
export function TitleCell({ to, title, under }: { to: string; title: string; under: string }) {
  return (
    <Cell>
      <Link to={to} className="text-plum font-semibold underline-offset-2 hover:underline">
        {title}
      </Link>
      <div className="text-sm text-ink-soft">{under}</div>
    </Cell>
  );
}
