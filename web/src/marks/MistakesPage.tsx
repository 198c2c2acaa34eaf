// What a class gets wrong in one exercise: causes counted, misses around the target, how it was done, who gave up.
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api } from "../api/client";
import type { CheckInsight, Insight } from "../api/types";
import { ExerciseNav } from "../people/ClassNav";
import { assignmentTrail } from "../ui/Crumbs";
import { nth } from "../ui/lists";
import { counted, dateTime, measured, short } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button, Heading, VerdictMark } from "../ui/parts";
import { Select } from "../ui/Select";
import { Slider } from "../ui/Slider";
import { MissPlot } from "./MissPlot";
import { passesAt, passingMistakes, scaled } from "./miss";

export function Component() {
  return (
    <Page
      what="insight"
      by="assignment"
      load={api.insight}
      title={() => "Class mistakes"}
      trail={assignmentTrail}
      waiting="Counting causes…"
    >
      {(page) => <InsightScreen page={page} />}
    </Page>
  );
}

function InsightScreen({ page }: { page: Insight }) {
  return (
    <>
      <ExerciseNav assignment={page.assignment} />
      <main className="mx-auto w-full max-w-6xl flex-1 space-y-8 overflow-y-auto px-6 py-6">
        <p className="text-lg font-semibold">
          {page.submitted} of {counted(page.students, "student")} submitted, {page.passed} passed
        </p>
        {page.submitted === 0 ? (
          <p>Nothing is submitted yet. The mistakes of the class will appear here.</p>
        ) : (
          <>
            <Causes page={page} />
            <Checks page={page} />
          </>
        )}
        <How page={page} />
      </main>
    </>
  );
}

function Causes({ page }: { page: Insight }) {
  const [all, setAll] = useState(false);
  const [open, setOpen] = useState<string | null>(null);
  const who = (cause: Insight["causes"][number]) => (all ? cause.ever : cause.counted);
  const rows = page.causes.filter((cause) => who(cause).length > 0);
  const most = Math.max(1, ...rows.map((cause) => who(cause).length));
  return (
    <section aria-label="Causes">
      <div className="mb-2 flex flex-wrap items-center gap-3">
        <Heading>Causes</Heading>
        <Select
          label="Attempts"
          value={all ? "all" : "counted"}
          options={[
            { value: "counted", text: "in the attempt that counts" },
            { value: "all", text: "in any attempt" },
          ]}
          onChange={(next) => setAll(next === "all")}
        />
      </div>
      {rows.length === 0 && <p>No cause found: no typical mistake explains the misses.</p>}
      <ul className="space-y-1">
        {rows.map((cause) => {
          const key = `${cause.code} ${cause.object}`;
          const people = who(cause);
          return (
            <li key={key}>
              <button
                type="button"
                aria-expanded={open === key}
                onClick={() => setOpen(open === key ? null : key)}
                className="grid w-full grid-cols-[12rem_1fr] items-center gap-3 rounded-sm px-1 py-0.5 text-left hover:bg-well max-sm:grid-cols-1"
              >
                <span className="flex items-center gap-2">
                  <span className="w-6 text-right font-mono">{people.length}</span>
                  <span aria-hidden className="h-4 flex-1">
                    <span
                      className="block h-full rounded-sm bg-plum"
                      style={{ width: `${(people.length / most) * 100}%` }}
                    />
                  </span>
                </span>
                <span>{cause.text}</span>
              </button>
              {open === key && (
                <p className="mt-1 mb-2 ml-2 border-l-2 border-plum pl-3">
                  {people.map(({ person, name, submission }, i) => (
                    <span key={person}>
                      {i > 0 && ", "}
                      <Link to={`/result/${submission}`} className="text-plum underline">
                        {name}
                      </Link>
                    </span>
                  ))}
                  <span className="block text-sm text-ink-soft">
                    Open a submission to compare the mistake with the reference.
                  </span>
                </p>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function Checks({ page }: { page: Insight }) {
  const missed = (check: CheckInsight) => check.dots.length + check.lost - check.passed;
  const first = [...page.checks].sort((a, b) => missed(b) - missed(a))[0];
  const [chosen, setChosen] = useState(first?.id);
  const check = page.checks.find((each) => each.id === chosen);
  if (!check) return null;
  return (
    <section aria-label="Where students ended up">
      <Heading>Where students ended up</Heading>
      <div className="grid grid-cols-[18rem_minmax(0,1fr)] gap-6 max-lg:grid-cols-1">
        <ul className="space-y-0.5">
          {page.checks.map((each) => (
            <li key={each.id}>
              <button
                type="button"
                aria-pressed={each.id === chosen}
                onClick={() => setChosen(each.id)}
                className={`flex w-full gap-2 rounded-sm px-2 py-1 text-left hover:bg-well ${each.id === chosen ? "bg-plum-soft font-semibold" : ""}`}
              >
                <span className="flex-1">{each.label}</span>
                <span className="font-mono">
                  {each.passed}/{each.dots.length + each.lost}
                </span>
              </button>
            </li>
          ))}
        </ul>
        <OneCheck key={check.id} page={page} check={check} />
      </div>
    </section>
  );
}

const LEAST = -3;
const MOST = 4; // powers of two: an eighth to sixteen times the tolerance

function OneCheck({ page, check }: { page: Insight; check: CheckInsight }) {
  const [power, setPower] = useState(0);
  const factor = 2 ** power;
  if (check.dots.length === 0) return <p>No measured value for this check yet.</p>;
  const passing = check.dots.filter((dot) => passesAt(dot, factor)).length;
  const total = check.dots.length + check.lost;
  const mistakes = passingMistakes(check, factor);
  const tolerance = check.tolerance.map((each) => scaled(each, factor));
  const words = [...new Set(tolerance)].map(short).join(", ");
  const movable = Math.max(...check.tolerance) > 0;
  return (
    <div className="min-w-0">
      <MissPlot check={check} up={page.up} factor={factor} />
      {movable && (
        <div className="mt-3 rounded-md border border-hairline bg-sheet px-4 py-3">
          <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
            <span>
              Tolerance{" "}
              <span className="font-mono">
                {words} {check.unit}
              </span>
            </span>
            <Slider
              label="Tolerance"
              text={`${words} ${check.unit}`}
              min={LEAST}
              max={MOST}
              step={0.125}
              value={power}
              onChange={setPower}
              className="min-w-40 flex-1"
            />
          </div>
          <p aria-live="polite" className="mt-1">
            <strong>
              {passing} of {total} pass
            </strong>
            {power !== 0 && ` with this tolerance; ${check.passed} with the current one`}.{" "}
            {mistakes.length > 0
              ? `${counted(mistakes.length, "typical mistake")} would also pass:`
              : "No typical mistake that this check detects would pass."}
          </p>
          <ul className="list-inside list-disc text-sm text-ink-soft">
            {mistakes.map((mistake) => (
              <li key={mistake.text}>{mistake.text}</li>
            ))}
          </ul>
          {power !== 0 && <TakeIt page={page} check={check} tolerance={tolerance} />}
        </div>
      )}
      <details className="mt-3">
        <summary className="cursor-pointer text-ink-soft">As a table</summary>
        <MissTable check={check} factor={factor} />
      </details>
    </div>
  );
}

type TakeProps = { page: Insight; check: CheckInsight; tolerance: readonly number[] };

/** A plan of the next version, with this tolerance in it. */
function TakeIt({ page, check, tolerance }: TakeProps) {
  const navigate = useNavigate();
  const [problem, setProblem] = useState("");
  async function take() {
    try {
      const { plan } = await api.createPlan({ from_version: page.version, title: "", copy_of_it: false });
      const { card, revision } = await api.plan(plan);
      const checks = card.checks.map((each) =>
        each.id === check.id && "tolerance" in each
          ? { ...each, tolerance: Array.isArray(each.tolerance) ? [...tolerance] : nth(tolerance, 0) }
          : each,
      );
      await api.saveCard(plan, revision, { ...card, checks } as typeof card);
      navigate(`/workshop/${plan}/checks`);
    } catch (error) {
      setProblem((error as Error).message);
    }
  }
  return (
    <p className="mt-2">
      <Button onClick={() => void take()}>Use this tolerance in a new plan</Button>
      {problem && (
        <span role="alert" className="ml-3 text-fail">
          {problem}
        </span>
      )}
    </p>
  );
}

function MissTable({ check, factor }: { check: CheckInsight; factor: number }) {
  const heads = check.axes.length > 0 ? check.axes : ["Difference"];
  return (
    <table className="mt-2 w-full border-collapse text-left">
      <thead className="text-sm text-ink-soft">
        <tr>
          <th scope="col" className="px-2 py-1 font-normal">
            Student
          </th>
          {heads.map((head) => (
            <th key={head} scope="col" className="px-2 py-1 text-right font-normal">
              {head} {check.unit && `(${check.unit})`}
            </th>
          ))}
          <th scope="col" className="px-2 py-1 font-normal">
            Verdict
          </th>
        </tr>
      </thead>
      <tbody>
        {check.dots.map((dot) => (
          <tr key={dot.submission} className="border-t border-hairline">
            <td className="px-2 py-1">
              <Link to={`/result/${dot.submission}`} className="text-plum underline">
                {dot.name}
              </Link>
            </td>
            {heads.map((head, axis) => (
              <td key={head} className="px-2 py-1 text-right font-mono">
                {measured(dot.miss[axis] ?? 0)}
              </td>
            ))}
            <td className="px-2 py-1">
              <VerdictMark verdict={factor === 1 ? dot.verdict : passesAt(dot, factor) ? "pass" : "fail"} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Minutes as people say them. */
function lasting(minutes: number | null): string {
  if (minutes === null) return "–";
  return minutes < 100 ? `${Math.round(minutes)} min` : `${Math.round(minutes / 60)} h`;
}

function How({ page }: { page: Insight }) {
  return (
    <section aria-label="Method" className="grid grid-cols-2 gap-8 max-lg:grid-cols-1">
      {page.how.length > 0 && (
        <div>
          <Heading>Method, in the attempt that counts</Heading>
          <table className="w-full border-collapse text-left">
            <thead className="text-sm text-ink-soft">
              <tr>
                {["Student", "Time", "Steps", "Typed", "Dragged"].map((head, i) => (
                  <th key={head} scope="col" className={`px-2 py-1 font-normal ${i > 0 ? "text-right" : ""}`}>
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {page.how.map((row) => (
                <tr key={row.submission} className="border-t border-hairline">
                  <td className="px-2 py-1">
                    <Link to={`/result/${row.submission}`} className="text-plum underline">
                      {row.name}
                    </Link>
                  </td>
                  <td className="px-2 py-1 text-right font-mono">{lasting(row.minutes)}</td>
                  <td className="px-2 py-1 text-right font-mono">{row.steps}</td>
                  <td className="px-2 py-1 text-right font-mono">{row.typed}</td>
                  <td className="px-2 py-1 text-right font-mono">{row.dragged}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <div>
        <Heading>Started, not submitted</Heading>
        {page.given_up.length === 0 && <p className="text-ink-soft">Nobody.</p>}
        <ul className="space-y-1">
          {page.given_up.map((row) => (
            <li key={row.person}>
              <Link to={`/classes/${page.class_id}/students/${row.person}`} className="text-plum underline">
                {row.name}
              </Link>
              , {counted(row.steps, "step")}
              {row.checks !== null && `, ${row.in_place} of ${row.checks} in place`}, last saved{" "}
              {dateTime(row.saved_at)}
            </li>
          ))}
        </ul>
      </div>
    </section>
  );
}
