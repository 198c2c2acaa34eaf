// The sheet: numbers computed on paper and typed, an object a row; saved as they are typed, handed in, checked.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import Markdown from "react-markdown";
import { useNavigate, useParams } from "react-router";
import { api } from "../api/client";
import type { Exercise, SceneObject, Sheet, SheetBody } from "../api/types";
import { ListChip } from "../ui/chips";
import { dateTime } from "../ui/numbers";
import { Button, ErrorNote, Waiting } from "../ui/parts";
import { HeadTools, Shell } from "../ui/Shell";
import { SignedIn } from "../ui/session";
import { ActionLink } from "../ui/table";
import { SceneUpload } from "./SceneUpload";
import { type Cells, column, GROUPS, type Group, rowOf, spaceIn, stateOf, troubleIn } from "./sheet";

const SAVE_AFTER_MS = 500;
const LENGTHS = ["mm", "cm", "m", "in", "ft"] as const;
const ANGLES = ["deg", "rad", "turn"] as const;
const ORDERS = ["XYZ", "XZY", "YXZ", "YZX", "ZXY", "ZYX"].flatMap((order) => [order, order.toLowerCase()]);

export function Component() {
  return (
    <SignedIn>
      <Loaded />
    </SignedIn>
  );
}

function Loaded() {
  const assignment = Number(useParams().assignment);
  const sheet = useQuery({
    queryKey: ["sheet", assignment],
    queryFn: () => api.sheet(assignment),
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <Shell title={sheet.data ? `${sheet.data.exercise.title}: sheet` : "Sheet"}>
      {sheet.data ? (
        <SheetScreen key={assignment} sheet={sheet.data} />
      ) : (
        <main>
          {sheet.error ? (
            <ErrorNote text={sheet.error.message} retry={() => sheet.refetch()} />
          ) : (
            <Waiting what="Laying out the sheet…" />
          )}
        </main>
      )}
    </Shell>
  );
}

type Conventions = Exercise["conventions"];
type Work = { conventions: Conventions; cells: Readonly<Record<string, Cells>> };

function SheetScreen({ sheet }: { sheet: Sheet }) {
  const { exercise } = sheet;
  const [work, setWork] = useState<Work>({ conventions: sheet.conventions, cells: sheet.cells });
  const { saving, problem, saved } = useSaved(sheet, work);
  const objects = exercise.objects.filter((item) => !item.locked);
  const nameOf = (id: string) => exercise.objects.find((item) => item.id === id)?.name ?? id;
  const trouble = troubleIn(work.cells, nameOf);
  const rows = rowsOf(work);
  const type = (id: string, field: string, text: string) =>
    setWork({ ...work, cells: { ...work.cells, [id]: { ...work.cells[id], [field]: text } } });
  const declare = (part: Partial<Conventions>) =>
    setWork({ ...work, conventions: { ...work.conventions, ...part } });
  return (
    <main className="min-h-0 flex-1 overflow-auto">
      <HeadTools>
        <output
          className={`mr-1 text-sm font-semibold ${saving === "saved" ? "text-pass" : "text-ink-soft"}`}
        >
          {saving === "saved" ? "✓ Saved" : problem ? "✕ Not saved" : "… Saving"}
        </output>
        <ActionLink to={`/bench/${sheet.assignment}`}>To the bench</ActionLink>
        <HandInSheet
          sheet={sheet}
          revision={saved}
          ready={rows.length > 0 && !trouble && saving === "saved"}
        />
      </HeadTools>
      <div className="mx-auto max-w-6xl space-y-5 px-6 py-6">
        <div className="brief max-w-3xl">
          <Markdown>{exercise.brief}</Markdown>
          <p className="text-sm text-ink-soft">Due {dateTime(sheet.due_at)}</p>
        </div>
        <p className="max-w-3xl text-ink-soft">
          Type where each object ends up, as you worked it out. The translation is where the object’s own
          origin comes to, not its pivot. What you leave empty stays as it was at the start.
        </p>
        <fieldset className="flex flex-wrap items-center gap-2">
          <legend className="sr-only">What the numbers are in</legend>
          <span>Lengths in</span>
          <ListChip
            label="Unit of length"
            value={work.conventions.length}
            shown={work.conventions.length}
            options={LENGTHS.map((value) => ({ value, text: value }))}
            onChange={(length) => declare({ length: length as Conventions["length"] })}
          />
          <span>angles in</span>
          <ListChip
            label="Unit of angle"
            value={work.conventions.angle}
            shown={work.conventions.angle}
            options={ANGLES.map((value) => ({ value, text: value }))}
            onChange={(angle) => declare({ angle: angle as Conventions["angle"] })}
          />
          <span>in the order</span>
          <ListChip
            label="Order of angles"
            value={work.conventions.euler}
            shown={work.conventions.euler}
            options={ORDERS.map((value) => ({
              value,
              text:
                value === value.toUpperCase()
                  ? `${value}, about the object’s own axes`
                  : `${value}, about fixed axes`,
            }))}
            onChange={(euler) => declare({ euler: euler as Conventions["euler"] })}
          />
        </fieldset>
        <SheetTable objects={objects} work={work} onType={type} />
        <p role="status" className={trouble || problem ? "text-fail" : "text-ink-soft"}>
          {problem ??
            trouble ??
            (rows.length === 0 ? "Nothing is typed yet." : "All that is typed is whole.")}
        </p>
        <SceneUpload assignment={sheet.assignment} />
      </div>
    </main>
  );
}

type TableProps = {
  objects: readonly SceneObject[];
  work: Work;
  onType: (id: string, field: string, text: string) => void;
};

function SheetTable({ objects, work, onType }: TableProps) {
  const { conventions, cells } = work;
  const heads: Record<Group, { words: string; letters: string }> = {
    translation: { words: `Translation (${conventions.length})`, letters: "XYZ" },
    euler: { words: `Angles (${conventions.angle})`, letters: conventions.euler.toUpperCase() },
    scale: { words: "Scale", letters: "XYZ" },
  };
  return (
    <table className="w-full border-collapse">
      <caption className="sr-only">Sheet</caption>
      <thead className="text-sm text-ink-soft">
        <tr>
          <th rowSpan={2} scope="col" className="py-1 pr-3 text-left font-normal">
            Object
          </th>
          <th rowSpan={2} scope="col" className="px-2 text-left font-normal">
            In
          </th>
          {GROUPS.map((group) => (
            <th key={group} scope="colgroup" colSpan={3} className="px-2 pt-1 text-left font-normal">
              {heads[group].words}
            </th>
          ))}
        </tr>
        <tr className="border-b border-hairline">
          {GROUPS.flatMap((group) =>
            [0, 1, 2].map((i) => (
              <th key={column(group, i)} scope="col" className="px-2 pb-1 text-left font-mono font-normal">
                {heads[group].letters[i]}
              </th>
            )),
          )}
        </tr>
      </thead>
      <tbody>
        {objects.map((item) => {
          const own = cells[item.id] ?? {};
          return (
            <tr key={item.id} className="border-b border-hairline">
              <th scope="row" className="py-1 pr-3 text-left font-semibold">
                {item.name}
              </th>
              <td className="px-2">
                <select
                  aria-label={`Space of ${item.name}`}
                  value={spaceIn(own)}
                  onChange={(event) => onType(item.id, "space", event.target.value)}
                  className="h-8 rounded-md border border-edge bg-sheet px-1"
                >
                  <option value="world">World</option>
                  <option value="parent">Parent</option>
                </select>
              </td>
              {GROUPS.flatMap((group) =>
                [0, 1, 2].map((i) => (
                  <td key={column(group, i)} className={i === 0 ? "pl-2" : "pl-1"}>
                    <input
                      aria-label={`${heads[group].words}, ${heads[group].letters[i]} of ${item.name}`}
                      aria-invalid={stateOf(own, group) === "wrong"}
                      value={own[column(group, i)] ?? ""}
                      maxLength={100}
                      onChange={(event) => onType(item.id, column(group, i), event.target.value)}
                      className="h-8 w-full min-w-14 rounded-md border border-edge bg-sheet px-1.5 text-right font-mono aria-invalid:border-fail"
                    />
                  </td>
                )),
              )}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function rowsOf(work: Work): SheetBody["rows"] {
  return Object.entries(work.cells).flatMap(([id, cells]) => rowOf(id, cells) ?? []);
}

/** Saves what is typed a moment after the last key, one save at a time; tells the revision that is saved. */
function useSaved(sheet: Sheet, work: Work) {
  const [saved, setSaved] = useState({ revision: sheet.revision, work });
  const [problem, setProblem] = useState<string | null>(null);
  const busy = useRef(false);
  const [turn, setTurn] = useState(0);
  const dirty = saved.work !== work;
  // biome-ignore lint/correctness/useExhaustiveDependencies: `turn` asks again for what was typed during a save
  useEffect(() => {
    if (!dirty || busy.current) return;
    const timer = window.setTimeout(async () => {
      busy.current = true;
      try {
        const body: SheetBody = { conventions: work.conventions, cells: work.cells, rows: rowsOf(work) };
        const { revision } = await api.saveSheet(sheet.assignment, saved.revision, body);
        setSaved({ revision, work });
        setProblem(null);
      } catch (error) {
        setProblem((error as Error).message);
      }
      busy.current = false;
      setTurn((count) => count + 1);
    }, SAVE_AFTER_MS);
    return () => window.clearTimeout(timer);
  }, [work, saved, dirty, turn]);
  useEffect(() => {
    if (!dirty) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [dirty]);
  return { saving: dirty ? ("saving" as const) : ("saved" as const), problem, saved: saved.revision };
}

function HandInSheet({ sheet, revision, ready }: { sheet: Sheet; revision: number; ready: boolean }) {
  const navigate = useNavigate();
  const cache = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const handIn = async () => {
    try {
      const { submission } = await api.handInSheet(sheet.assignment, revision);
      cache.removeQueries({ queryKey: ["home"] });
      navigate(`/result/${submission}`);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <>
      {problem && (
        <span role="alert" className="text-sm text-fail">
          {problem}
        </span>
      )}
      <Button look="main" disabled={!ready} onClick={handIn}>
        Hand in
      </Button>
    </>
  );
}
