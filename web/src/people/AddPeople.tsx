// Bringing people in: rows as they are typed, or a file; first what it would do, row by row, then doing it.
import { useState } from "react";
import { api } from "../api/client";
import type { Roster, RosterBody, RosterRow, Slip } from "../api/types";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { FileButton } from "../ui/FileButton";
import { ListField, same } from "../ui/fields";
import { counted } from "../ui/numbers";
import { Button } from "../ui/parts";

type Props = { class: number; onClose: () => void; onDone: (slips: Slip[], words: string) => void };

const DOES: Record<RosterRow["does"], { glyph: string; word: string; colour: string }> = {
  new: { glyph: "+", word: "New", colour: "text-pass" },
  joins: { glyph: "+", word: "Joins", colour: "text-pass" },
  back: { glyph: "+", word: "Returns", colour: "text-pass" },
  invited: { glyph: "?", word: "Asked to teach", colour: "text-near" },
  changed: { glyph: "≈", word: "Changes", colour: "text-near" },
  known: { glyph: "–", word: "Already in the class", colour: "text-grey" },
  refused: { glyph: "✕", word: "Skipped", colour: "text-fail" },
};

/** What was typed: a name a line; after a comma or semicolon the name to sign in with, and the e-mail address. */
export function typedRows(text: string): NonNullable<RosterBody["typed"]> {
  return text
    .split("\n")
    .map((line) => line.split(/[;,\t]/).map((cell) => cell.trim()))
    .filter(([name]) => name)
    .map(([name = "", sign_in = "", email = ""]) => ({ name, sign_in, email, role: "student" as const }));
}

async function asSent(file: File): Promise<{ name: string; content: string }> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let text = "";
  for (const byte of bytes) text += String.fromCharCode(byte);
  return { name: file.name, content: btoa(text) };
}

export function AddPeople({ class: number, onClose, onDone }: Props) {
  const [typed, setTyped] = useState("");
  const [files, setFiles] = useState<{ name: string; content: string }[]>([]);
  const [chosen, setChosen] = useState("");
  const [seen, setSeen] = useState<Roster | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const body = { files, typed: typedRows(typed), chosen };
  async function tried<T>(what: () => Promise<T>, then: (answer: T) => void) {
    setBusy(true);
    setProblem(null);
    try {
      then(await what());
    } catch (error) {
      setProblem((error as Error).message);
    }
    setBusy(false);
  }
  const look = (sent: RosterBody) => tried(() => api.previewRoster(number, sent), setSeen);
  const bring = () =>
    tried(
      () => api.addPeople(number, body),
      ({ rows, slips }) => {
        const done = rows.filter((row) => !["refused", "known"].includes(row.does)).length;
        onDone(slips, `${counted(done, "row")} done.`);
      },
    );
  const will = seen?.rows.filter((row) => !["refused", "known"].includes(row.does)).length ?? 0;
  return (
    <Dialog open onClose={onClose} wide title="Add people">
      {seen ? (
        <Preview
          seen={seen}
          chosen={chosen}
          onChoose={(next) => {
            setChosen(next);
            void look({ ...body, chosen: next });
          }}
        />
      ) : (
        <div className="mt-3 space-y-4">
          <label className="block">
            Type one name a line. You can add a username and an e-mail address after commas.
            <textarea
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
              placeholder={"Mira Quayle\nOle Stannard, ole"}
              className="mt-1 h-28 w-full rounded-md border border-edge bg-paper px-2 py-1 font-mono"
            />
          </label>
          <p>
            Or choose a file: a CSV file with a header (name, sign-in, e-mail, outside id), or users.csv and
            enrollments.csv from OneRoster together.
          </p>
          <p className="flex flex-wrap items-center gap-3">
            <FileButton
              text="Choose files"
              accept={[".csv", "text/csv", "text/plain"]}
              multiple
              onFiles={(chosen) => void Promise.all(chosen.map(asSent)).then(setFiles)}
            />
            <span className="text-ink-soft">
              {files.map(({ name }) => name).join(", ") || "No file chosen."}
            </span>
          </p>
        </div>
      )}
      {problem && (
        <p role="alert" className="mt-3 text-fail">
          {problem}
        </p>
      )}
      <DialogButtons>
        <Button onClick={onClose}>Cancel</Button>
        {seen && <Button onClick={() => setSeen(null)}>Back to the list</Button>}
        {seen ? (
          <Button look="main" disabled={busy || will === 0} onClick={() => void bring()}>
            {busy ? "Working…" : `Apply to ${counted(will, "row")}`}
          </Button>
        ) : (
          <Button
            look="main"
            disabled={busy || (files.length === 0 && body.typed.length === 0)}
            onClick={() => void look(body)}
          >
            {busy ? "Loading…" : "Preview"}
          </Button>
        )}
      </DialogButtons>
    </Dialog>
  );
}

type PreviewProps = { seen: Roster; chosen: string; onChoose: (chosen: string) => void };

function Preview({ seen, chosen, onChoose }: PreviewProps) {
  const refused = seen.rows.filter((row) => row.does === "refused").length;
  return (
    <div className="mt-3">
      {seen.classes.length > 1 && (
        <ListField
          label="Class in the file"
          value={chosen}
          options={[...(chosen ? [] : [{ value: "", text: "Choose a class…" }]), ...same(seen.classes)]}
          onChange={onChoose}
        />
      )}
      {seen.notes.map((note) => (
        <p key={note} className="text-sm text-ink-soft">
          {note}
        </p>
      ))}
      <p className="mb-2" role="status">
        Nothing has changed yet. {counted(seen.rows.length, "row")}
        {refused > 0 && `, ${refused} of them skipped`}.
      </p>
      <div className="max-h-[50vh] overflow-y-auto scroll-shade border-y border-hairline">
        <table className="w-full border-collapse">
          <thead className="text-left text-sm text-ink-soft">
            <tr>
              {["Change", "Name", "Username", "Reason"].map((head) => (
                <th key={head} scope="col" className="px-2 py-1 font-normal">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {seen.rows.map((row, i) => (
              <tr key={i} className="border-t border-hairline align-top">
                <td className={`px-2 py-1 font-semibold whitespace-nowrap ${DOES[row.does].colour}`}>
                  <span aria-hidden>{DOES[row.does].glyph} </span>
                  {DOES[row.does].word}
                </td>
                <td className="px-2 py-1">
                  {row.name}
                  {row.role === "instructor" && <span className="text-ink-soft"> (instructor)</span>}
                </td>
                <td className="px-2 py-1 font-mono">{row.sign_in}</td>
                <td className="px-2 py-1 text-sm text-ink-soft">{row.why && `${row.where}: ${row.why}`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
