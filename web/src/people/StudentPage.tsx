// One student: every try at everything set, with its mark and why it missed.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import type { Student } from "../api/types";
import { ExceptionDialog } from "../assignments/ExceptionDialog";
import { exceptionWords } from "../assignments/exceptionWords";
import { classTrail } from "../ui/Crumbs";
import { NotFound } from "../ui/NotFound";
import { counted, dateTime, percent, short } from "../ui/numbers";
import { Button, NoPage, Waiting } from "../ui/parts";
import { Shell } from "../ui/Shell";
import { useNumber } from "../ui/useNumber";
import { ClassNav } from "./ClassNav";

export function Component() {
  return <Found />;
}

function Found() {
  const [number, person] = [useNumber("class"), useNumber("person")];
  const found = useQuery({
    queryKey: ["student", number, person],
    queryFn: () => api.student(number ?? 0, person ?? 0),
    enabled: number !== null && person !== null,
  });
  if (number === null || person === null) return <NotFound />;
  return (
    <Shell title={found.data?.name ?? "Student"} trail={found.data ? classTrail(found.data) : []}>
      {found.data ? (
        <Tries student={found.data} />
      ) : found.error ? (
        <NoPage error={found.error} retry={() => found.refetch()} />
      ) : (
        <Waiting what="Loading all attempts…" />
      )}
    </Shell>
  );
}

function Tries({ student }: { student: Student }) {
  const cache = useQueryClient();
  const [asked, setAsked] = useState<Student["items"][number] | null>(null);
  const tried = student.items.filter((item) => item.attempts.length > 0);
  return (
    <>
      <ClassNav class={student.class_id} />
      <main className="mx-auto w-full max-w-5xl flex-1 overflow-y-auto px-6 py-6">
        <p className="mb-4 text-lg font-semibold">
          {tried.length} of {counted(student.items.length, "exercise")} submitted
          {student.left && <span className="text-ink-soft"> (left the class)</span>}
          <span className="ml-6">Total {percent(student.total)}</span>
        </p>
        {student.items.map((item) => (
          <section key={item.assignment} className="mb-5 border-b border-hairline pb-3">
            <h2 className="font-semibold">
              <Link to={`/assignments/${item.assignment}`} className="text-plum underline underline-offset-2">
                {item.title}
              </Link>
              <span className="ml-3 text-sm font-normal text-ink-soft">
                due {dateTime(item.due_at)}
                {item.weight !== 1 && `, weight ${short(item.weight)}`}
              </span>
              {!student.archived && !student.left && (
                <Button
                  className="float-right font-normal"
                  aria-label={`Exception for ${item.title}`}
                  onClick={() => setAsked(item)}
                >
                  {item.exception ? "Change exception" : "Exception"}
                </Button>
              )}
            </h2>
            {item.exception && (
              <p>
                Exception: {exceptionWords(item.exception)}
                {item.exception.reason && <span className="text-ink-soft"> ({item.exception.reason})</span>}
              </p>
            )}
            {item.attempts.length === 0 && <p className="text-ink-soft">Nothing submitted.</p>}
            <ol className="mt-1 space-y-1">
              {item.attempts.map((each) => (
                <li key={each.submission} className="flex flex-wrap gap-x-4">
                  <Link
                    to={`/result/${each.submission}`}
                    className="w-60 shrink-0 text-plum underline underline-offset-2"
                  >
                    Attempt {each.number}, {dateTime(each.submitted_at)}
                  </Link>
                  <span className="w-12 text-right font-mono">{percent(each.mark.score)}</span>
                  <span className={`w-28 ${each.mark.passed ? "text-pass" : "text-fail"}`}>
                    {each.mark.passed ? "✓ Passed" : "✕ Not passed"}
                  </span>
                  {each.late && <span className="text-near">late</span>}
                  <span className="flex-1 basis-80 text-sm text-ink-soft">{each.causes.join(" ")}</span>
                </li>
              ))}
            </ol>
          </section>
        ))}
      </main>
      {asked && (
        <ExceptionDialog
          assignment={asked.assignment}
          title={asked.title}
          zone={student.time_zone}
          student={student}
          others={[]}
          exception={asked.exception}
          onClose={() => setAsked(null)}
          onSaved={() => {
            setAsked(null);
            void cache.invalidateQueries({ queryKey: ["student", student.class_id, student.person] });
          }}
        />
      )}
    </>
  );
}
