// A page with something of the server's: for who is signed in, by the number in the address, once it has come.
import { useQuery } from "@tanstack/react-query";
import { Fragment, type ReactNode } from "react";
import { NotFound } from "./NotFound";
import { NoPage, Waiting } from "./parts";
import { Shell } from "./Shell";
import { useNumber } from "./useNumber";

type Props<Data> = {
  /** What is shown, as it is called among what the screens keep. */
  what: string;
  load: (number: number) => Promise<Data>;
  title: (data: Data | undefined) => string;
  waiting: string;
  /** Whether it is asked for anew each time it is opened, and then not again; or is as good later as it was. */
  kept?: "while open" | "for good";
  /** After how many milliseconds it is asked for once more, as long as something of it is still to come. */
  again?: (data: Data) => number | false;
  /** Whether it is a student's page, from which who teaches the class is led to the class's. */
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
  const { number, what, load, title, waiting, kept, again, students, children } = props;
  const found = useQuery({
    queryKey: number ? [what, number] : [what],
    queryFn: () => load(number),
    ...(kept ? { staleTime: Number.POSITIVE_INFINITY } : {}),
    ...(kept === "while open" ? { gcTime: 0 } : {}),
    refetchInterval: ({ state }) => (state.data !== undefined && again ? again(state.data) : false),
  });
  return (
    <Shell title={title(found.data)}>
      {found.data !== undefined ? (
        <Fragment key={number}>{children(found.data)}</Fragment>
      ) : found.error ? (
        <NoPage
          error={found.error}
          retry={() => found.refetch()}
          {...(students ? { classPage: `/set/${number}` } : {})}
        />
      ) : (
        <Waiting what={waiting} />
      )}
    </Shell>
  );
}
