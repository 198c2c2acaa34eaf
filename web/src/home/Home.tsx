import { Link } from "react-router";
import { api } from "../api/client";
import type { Home as HomeData } from "../api/types";
import { ChooseButton, DropRow, OnItsWay } from "../files/FileChooser";
import { useSending } from "../files/useSending";
import { Page } from "../ui/Page";
import { usePerson } from "../ui/session";
import { ActionLink, Cell, DueCell, Table } from "../ui/table";
import { Mark, stateWords } from "../ui/work";

export function Home() {
  return (
    <Page what="home" load={api.home} title={() => "Start"} waiting="Looking for what is set…">
      {(home) => <Lists home={home} />}
    </Page>
  );
}

function Lists({ home }: { home: HomeData }) {
  const person = usePerson();
  return (
    <main className="mx-auto w-full max-w-5xl overflow-y-auto px-6 py-8">
      <div className="mb-6 flex items-center">
        <p className="text-lg font-semibold">Hello, {person.name.split(" ")[0]}</p>
        {home.teaches && (
          <span className="ml-auto">
            <ActionLink to="/workshop">Workshop: make an exercise</ActionLink>
          </span>
        )}
      </div>
      <Tables home={home} />
    </main>
  );
}

function Tables({ home }: { home: HomeData }) {
  if (home.to_do.length + home.taught.length === 0) {
    return <p>Nothing is set for you yet. When your instructor sets an exercise, it stands here.</p>;
  }
  return (
    <div className="space-y-10">
      {home.to_do.length > 0 && <ToDo rows={home.to_do} />}
      {home.taught.length > 0 && <Taught rows={home.taught} />}
    </div>
  );
}

function ToDo({ rows }: { rows: HomeData["to_do"] }) {
  const files = useSending();
  return (
    <>
      <OnItsWay files={files} />
      <Table caption="Set for you" heads={["Exercise", "Due", "State", "Best mark", ""]}>
        {rows.map((row) => (
          <DropRow key={row.assignment} onFile={(file) => files.send(row.assignment, file)}>
            <Cell>
              <Link
                to={`/bench/${row.assignment}`}
                className="text-plum font-semibold underline-offset-2 hover:underline"
              >
                {row.title}
              </Link>
              <div className="text-sm text-ink-soft">{row.class_name}</div>
            </Cell>
            <DueCell due={row.due_at} />
            <Cell>{stateWords(row.work)}</Cell>
            <Cell>
              <Mark work={row.work} />
            </Cell>
            <Cell right>
              {row.work.newest_submission !== null && (
                <ActionLink to={`/result/${row.work.newest_submission}`} main={row.work.passed}>
                  See the result
                </ActionLink>
              )}
              <span className="ml-2 inline-block">
                <ChooseButton about={row.title} onFile={(file) => files.send(row.assignment, file)} />
              </span>
              <ActionLink to={`/sheet/${row.assignment}`}>Sheet</ActionLink>
              <ActionLink to={`/bench/${row.assignment}`} main={!row.work.passed}>
                {row.work.state === "not started" ? "Start" : "Go on"}
              </ActionLink>
            </Cell>
          </DropRow>
        ))}
      </Table>
    </>
  );
}

function Taught({ rows }: { rows: HomeData["taught"] }) {
  return (
    <Table caption="Set by you" heads={["Exercise", "Due", "Handed in", "Passed", ""]}>
      {rows.map((row) => (
        <tr key={row.assignment} className="border-b border-hairline">
          <Cell>
            <Link
              to={`/class/${row.assignment}`}
              className="text-plum font-semibold underline-offset-2 hover:underline"
            >
              {row.title}
            </Link>
            <div className="text-sm text-ink-soft">{row.class_name}</div>
          </Cell>
          <DueCell due={row.due_at} />
          <Cell>
            <span className="font-mono">
              {row.handed_in} of {row.students}
            </span>
          </Cell>
          <Cell>
            <span className="font-mono">{row.passed}</span>
          </Cell>
          <Cell right>
            <ActionLink to={`/class/${row.assignment}`} main>
              See submissions
            </ActionLink>
          </Cell>
        </tr>
      ))}
    </Table>
  );
}
