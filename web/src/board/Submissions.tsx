import { api } from "../api/client";
import type { Submissions as SubmissionsData } from "../api/types";
import { ExerciseNav } from "../classes/ClassNav";
import { counted, dateTime, fromNow } from "../ui/numbers";
import { Page } from "../ui/Page";
import { ActionLink, Cell, Table } from "../ui/table";
import { Mark, stateWords } from "../ui/work";

export function Submissions() {
  return (
    <Page
      what="submissions"
      by="assignment"
      load={api.submissions}
      title={(page) => page?.title ?? "Submissions"}
      waiting="Looking for submissions…"
    >
      {(page) => <Content page={page} />}
    </Page>
  );
}

function Content({ page }: { page: SubmissionsData }) {
  const handedIn = page.rows.filter((row) => row.work.tries > 0);
  const passed = handedIn.filter((row) => row.work.passed).length;
  return (
    <>
      <ExerciseNav assignment={page.assignment} />
      <main className="mx-auto w-full max-w-6xl flex-1 overflow-y-auto px-6 py-6">
        <p className="mb-1 text-lg font-semibold">
          {handedIn.length} of {counted(page.rows.length, "student")} handed in, {passed} passed
        </p>
        <p className="mb-6 text-ink-soft">
          {page.class_name}, due {dateTime(page.due_at)} ({fromNow(page.due_at, new Date())})
        </p>
        <Table
          caption="Students"
          heads={["Name", "State", "Best mark", "Last handed in", "Likely cause of a miss", ""]}
        >
          {page.rows.map((row) => (
            <tr key={row.student} className="border-b border-hairline">
              <Cell>
                {row.student}
                {row.work.tries > 0 && !row.looked && (
                  <span className="ml-2 text-sm whitespace-nowrap text-plum">• not looked at</span>
                )}
              </Cell>
              <Cell>{stateWords(row.work)}</Cell>
              <Cell>
                <Mark work={row.work} />
              </Cell>
              <Cell>
                {row.handed_in_at ? dateTime(row.handed_in_at) : "–"}
                {row.late && <span className="ml-2 font-semibold text-near">late</span>}
              </Cell>
              <Cell>
                <Why causes={row.causes} />
              </Cell>
              <Cell right>
                {row.work.newest_submission !== null && (
                  <ActionLink to={`/result/${row.work.newest_submission}`}>Open</ActionLink>
                )}
              </Cell>
            </tr>
          ))}
        </Table>
      </main>
    </>
  );
}

/** The likeliest cause of the newest submission; the others are told when it is opened. */
function Why({ causes }: { causes: readonly string[] }) {
  const [first, ...others] = causes;
  if (first === undefined) return null;
  return (
    <p className="max-w-80 text-sm text-ink-soft">
      {first}
      {others.length > 0 && ` And ${counted(others.length, "more cause")}.`}
    </p>
  );
}
