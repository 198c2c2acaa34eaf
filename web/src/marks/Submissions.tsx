import { api } from "../api/client";
import type { Submissions as SubmissionsData } from "../api/types";
import { exceptionWords } from "../assignments/exceptionWords";
import { ExerciseNav } from "../people/ClassNav";
import { classTrail } from "../ui/Crumbs";
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
      trail={classTrail}
      waiting="Loading submissions…"
    >
      {(page) => <Content page={page} />}
    </Page>
  );
}

function Content({ page }: { page: SubmissionsData }) {
  const handedIn = page.rows.filter((row) => row.work.attempts > 0);
  const passed = handedIn.filter((row) => row.work.passed).length;
  return (
    <>
      <ExerciseNav assignment={page.assignment} />
      <main className="mx-auto w-full max-w-6xl flex-1 overflow-y-auto px-6 py-6">
        <p className="mb-1 text-lg font-semibold">
          {handedIn.length} of {counted(page.rows.length, "student")} submitted, {passed} passed
        </p>
        <p className="mb-6 text-ink-soft">
          {page.class_name}, due {dateTime(page.due_at)} ({fromNow(page.due_at, new Date())})
        </p>
        <Table
          caption="Students"
          heads={["Name", "State", "Best mark", "Last submitted", "Most likely cause", ""]}
        >
          {page.rows.map((row) => (
            <tr key={row.student} className="border-b border-hairline">
              <Cell>
                <span className="md:whitespace-nowrap">{row.student}</span>
                {row.exception && (
                  <span className="ml-2 text-sm text-ink-soft" title={row.exception.reason}>
                    {exceptionWords(row.exception)}
                  </span>
                )}
                {row.work.attempts > 0 && !row.reviewed && (
                  <span className="ml-2 text-sm whitespace-nowrap text-plum">• not reviewed</span>
                )}
              </Cell>
              <Cell>
                <span className="md:whitespace-nowrap">{stateWords(row.work)}</span>
              </Cell>
              <Cell>
                <span className="md:whitespace-nowrap">
                  <Mark work={row.work} />
                </span>
              </Cell>
              <Cell>
                <span className="md:whitespace-nowrap">
                  {row.submitted_at ? dateTime(row.submitted_at) : "–"}
                </span>
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
    <p className="max-w-80 md:min-w-48 text-sm text-ink-soft">
      {first}
      {others.length > 0 && ` And ${counted(others.length, "more cause")}.`}
    </p>
  );
}
