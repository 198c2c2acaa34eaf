// The sheet: numbers computed on paper and typed, an object a row; saved as they are typed, submitted, checked.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Markdown from "react-markdown";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import type { Exercise, SceneObject, Sheet } from "../api/types";
import { placeOf } from "../saving/copies";
import { LeaveDialog } from "../saving/LeaveDialog";
import { SavedMark } from "../saving/SavedMark";
import { useSaver } from "../saving/useSaver";
import { ANGLES, LENGTHS, ORDERS } from "../ui/conventions";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { counted, dateTime } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button } from "../ui/parts";
import { Select } from "../ui/Select";
import { HeadTools } from "../ui/Shell";
import { usePerson } from "../ui/session";
import { ActionLink } from "../ui/table";
import { listed } from "../ui/words";
import { DownloadDialog, givenIn } from "./DownloadDialog";
import { FileChooser } from "./FileChooser";
import {
  type Cells,
  column,
  GROUPS,
  type Group,
  isTable,
  pastedAt,
  spaceIn,
  stateOf,
  troubleIn,
} from "./sheet";
import {
  bodyOf,
  conflicts,
  SHEET_KIND,
  type SheetAnswer,
  type SheetCopy,
  type SheetWork,
  typed,
  workOf,
} from "./sheetWork";

export function Component() {
  return (
    <Page
      what="sheet"
      by="assignment"
      students
      kept="while open"
      load={api.sheet}
      title={() => "Sheet"}
      trail={(sheet) => [{ to: `/bench/${sheet.assignment}`, text: sheet.exercise.title }]}
      waiting="Loading the sheet…"
    >
      {(sheet) => <SheetScreen sheet={sheet} />}
    </Page>
  );
}

type Conventions = Exercise["conventions"];

const SPACES = [
  { value: "world", text: "World" },
  { value: "parent", text: "Parent" },
];

function SheetScreen({ sheet }: { sheet: Sheet }) {
  const { exercise, assignment } = sheet;
  const person = usePerson().sign_in;
  const [first] = useState(() => workOf(sheet));
  const saver = useSaver<SheetWork, SheetCopy, SheetAnswer>({
    kind: SHEET_KIND,
    first,
    place: placeOf("sheet", person, assignment),
    person,
    send: async (work) => ({
      ...(await api.saveSheet(assignment, work.revision, bodyOf(work))),
      conventions: work.conventions,
      cells: work.cells,
    }),
    newerIn: ({ body }) => (body.code === "stale-sheet" ? api.sheet(assignment) : null),
    mendOf: () => null,
  });
  const { doc: work, change, saving } = saver;
  const [refused, setRefused] = useState<string | null>(null);
  const objects = exercise.objects.filter((item) => !item.locked);
  const nameOf = (id: string) => exercise.objects.find((item) => item.id === id)?.name ?? id;
  const trouble = troubleIn(work.cells, nameOf);
  const problem = refused ?? (saver.dirty ? saver.trouble?.text : null) ?? null;
  const { rows } = bodyOf(work);
  const type = (texts: Readonly<Record<string, Cells>>) => {
    setRefused(null);
    change((now) => typed(now, texts));
  };
  const paste = (id: string, field: string, text: string) => {
    const table = pastedAt(
      text,
      objects.map((item) => item.id),
      id,
      field,
    );
    if ("why" in table) setRefused(table.why);
    else type(table.texts);
  };
  const declare = (part: Partial<Conventions>) =>
    change((now) => ({ ...now, conventions: { ...now.conventions, ...part } }));
  return (
    <main className="min-h-0 flex-1 overflow-auto">
      <HeadTools>
        <SavedMark saving={saving} />
        <DownloadDialog sources={givenIn(sheet.assignment, exercise)} conventions={exercise.conventions} />
        <FileChooser assignment={sheet.assignment} />
        <ActionLink to={`/bench/${sheet.assignment}`}>Open the bench</ActionLink>
        <HandInSheet
          sheet={sheet}
          revision={work.revision}
          whole={rows.length}
          ready={rows.length > 0 && !trouble && saving === "saved"}
        />
      </HeadTools>
      <div className="mx-auto max-w-6xl space-y-5 px-6 py-6">
        <div className="brief max-w-3xl">
          <Markdown>{exercise.brief}</Markdown>
          <p className="text-sm text-ink-soft">Due {dateTime(sheet.due_at)}</p>
        </div>
        <p className="max-w-3xl text-ink-soft">
          Type where each object ends up. The translation is the position of the object’s own origin, not of
          its pivot. Blank fields keep their start values.
        </p>
        <fieldset className="flex flex-wrap items-center gap-2">
          <legend className="sr-only">Units and order</legend>
          <span>Lengths in</span>
          <Select
            label="Unit of length"
            value={work.conventions.length}
            shown={work.conventions.length}
            options={LENGTHS.map((value) => ({ value, text: value }))}
            onChange={(length) => declare({ length: length as Conventions["length"] })}
          />
          <span>Angles in</span>
          <Select
            label="Unit of angle"
            value={work.conventions.angle}
            shown={work.conventions.angle}
            options={ANGLES.map((value) => ({ value, text: value }))}
            onChange={(angle) => declare({ angle: angle as Conventions["angle"] })}
          />
          <span>Order</span>
          <Select
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
        <SheetTable objects={objects} work={work} onType={type} onPaste={paste} />
        <p role="status" className={trouble || problem ? "text-fail" : "text-ink-soft"}>
          {problem ?? trouble ?? (rows.length === 0 ? "Nothing is typed yet." : "Every row is complete.")}
        </p>
      </div>
      <LeaveDialog
        unkept={saver.dirty}
        title="Not saved yet"
        text="Your last numbers are not on the server yet. They stay in this browser and are saved when you come back."
      />
      <TwoSheets question={saver.question} onAnswer={saver.answer} nameOf={nameOf} />
    </main>
  );
}

type TableProps = {
  objects: readonly SceneObject[];
  work: SheetWork;
  onType: (texts: Readonly<Record<string, Cells>>) => void;
  /** A table pasted into a field fills this one and those right of it and below. */
  onPaste: (id: string, field: string, text: string) => void;
};

function SheetTable({ objects, work, onType, onPaste }: TableProps) {
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
            Space
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
              <th scope="row" className="py-1 pr-3 text-left font-semibold whitespace-nowrap">
                {item.name}
              </th>
              <td className="px-2">
                <Select
                  label={`Space of ${item.name}`}
                  value={spaceIn(own)}
                  options={SPACES}
                  onChange={(space) => onType({ [item.id]: { space } })}
                />
              </td>
              {GROUPS.flatMap((group) =>
                [0, 1, 2].map((i) => (
                  <td key={column(group, i)} className={i === 0 ? "pl-2" : "pl-1"}>
                    <input
                      aria-label={`${heads[group].words}, ${heads[group].letters[i]} of ${item.name}`}
                      aria-invalid={stateOf(own, group) === "wrong"}
                      value={own[column(group, i)] ?? ""}
                      maxLength={100}
                      onChange={(event) => onType({ [item.id]: { [column(group, i)]: event.target.value } })}
                      onPaste={(event) => {
                        const text = event.clipboardData.getData("text");
                        if (!isTable(text)) return;
                        event.preventDefault();
                        onPaste(item.id, column(group, i), text);
                      }}
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

type Question = { base: SheetWork; mine: SheetCopy } | null;

/** Two windows changed the same fields: which stay. What only one of them changed stays anyway. */
function TwoSheets({
  question,
  onAnswer,
  nameOf,
}: {
  question: Question;
  onAnswer: (choice: "theirs" | "mine") => void;
  nameOf: (id: string) => string;
}) {
  const fields = question ? conflicts(question.base, question.mine) : [];
  const names = [...new Set(fields.map((key) => key.slice(0, key.lastIndexOf(" "))))].map((id) =>
    id === "conventions" ? "the units and the order of angles" : nameOf(id),
  );
  return (
    <Dialog
      open={question !== null}
      title="This sheet was also changed in another window"
      text={`${counted(fields.length, "field")} of ${listed(names)} differ. Choose which to keep. All other fields keep what was typed.`}
    >
      <DialogButtons>
        <Button onClick={() => onAnswer("theirs")}>The other window’s</Button>
        <Button look="main" onClick={() => onAnswer("mine")}>
          This window’s
        </Button>
      </DialogButtons>
    </Dialog>
  );
}

function HandInSheet({
  sheet,
  revision,
  whole,
  ready,
}: {
  sheet: Sheet;
  revision: number;
  whole: number;
  ready: boolean;
}) {
  const [asking, setAsking] = useState(false);
  const navigate = useNavigate();
  const cache = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const handIn = async () => {
    try {
      const { submission } = await api.submitSheet(sheet.assignment, revision);
      cache.removeQueries({ queryKey: ["home"] });
      navigate(`/result/${submission}`);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <>
      <Button look="main" disabled={!ready} onClick={() => setAsking(true)}>
        Submit
      </Button>
      <Dialog
        open={asking}
        onClose={() => setAsking(false)}
        title="Submit this sheet?"
        text={`${counted(whole, "object")} with numbers; all others keep their start values. You can continue and submit again afterwards.`}
      >
        {problem && (
          <p role="alert" className="mt-3 text-fail">
            {problem}
          </p>
        )}
        <DialogButtons>
          <Button onClick={() => setAsking(false)}>Cancel</Button>
          <Button look="main" disabled={!ready} onClick={handIn}>
            Submit now
          </Button>
        </DialogButtons>
      </Dialog>
    </>
  );
}
