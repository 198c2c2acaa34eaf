// A page that loads its data from the server, by the number in its address.
import { useQuery } from "@tanstack/react-query";
import { Fragment, type ReactNode } from "react";
import type { Crumb } from "./Crumbs";
import { NotFound } from "./NotFound";
import { NoPage, Waiting } from "./parts";
import { Shell } from "./Shell";
import { useNumber } from "./useNumber";

type Props<Data> = {
  /** The name of the data in the query cache. */
  what: string;
  load: (number: number) => Promise<Data>;
  title: (data: Data | undefined) => string;
  /** The pages above this one. */
  trail?: (data: Data) => readonly Crumb[];
  waiting: string;
  /** Load once each time the page opens, or once and for all. */
  kept?: "while open" | "for good";
  /** Milliseconds until the data is loaded again while it is incomplete. */
  again?: (data: Data) => number | false;
  /** Whether it is a student's page; instructors get a link to the submissions instead. */
  students?: boolean;
  children: (data: Data) => ReactNode;
};

type Word = "assignment" | "submission" | "plan" | "file" | "class";

/** by: the word in the address that stands for the number of what is shown. */
export function Page<Data>({ by, ...props }: Props<Data> & { by?: Word }) {
  return by ? <Numbered by={by} {...props} /> : <Loaded number={0} {...props} />;
}

function Numbered<Data>({ by, ...props }: Props<Data> & { by: Word }) {
  const number = useNumber(by);
  return number === null ? <NotFound /> : <Loaded number={number} {...props} />;
}

type LoadedProps<Data> = Props<Data> & { number: number };

function Loaded<Data>(props: LoadedProps<Data>) {
  const { number, what, load, title, trail, waiting, kept, again, students, children } = props;
  const found = useQuery({
    queryKey: number ? [what, number] : [what],
    queryFn: () => load(number),
    ...(kept ? { staleTime: Number.POSITIVE_INFINITY } : {}),
    ...(kept === "while open" ? { gcTime: 0 } : {}),
    refetchInterval: ({ state }) => (state.data !== undefined && again ? again(state.data) : false),
  });
  return (
    <Shell title={title(found.data)} trail={found.data !== undefined ? (trail?.(found.data) ?? []) : []}>
      {found.data !== undefined ? (
        <Fragment key={number}>{children(found.data)}</Fragment>
      ) : found.error ? (
        <NoPage
          error={found.error}
          retry={() => found.refetch()}
          {...(students ? { classPage: `/assignments/${number}` } : {})}
        />
      ) : (
        <Waiting what={waiting} />
      )}
    </Shell>
  );
}
