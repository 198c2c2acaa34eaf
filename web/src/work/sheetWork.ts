// A sheet in progress, as the saver deals with it: field by field, so that two windows meet in peace. Pure.
import type { Exercise, Sheet, SheetBody } from "../api/types";
import type { Kind } from "../saving/saver";
import { type Cells, rowOf } from "./sheet";

type Conventions = Exercise["conventions"];
type Fields = { conventions: Conventions; cells: Readonly<Record<string, Cells>> };

/** base: what the server had at that revision. */
export type SheetWork = Fields & { revision: number; base: Fields };
export type SheetCopy = SheetWork;
export type SheetAnswer = Fields & { revision: number };

export function workOf({ revision, conventions, cells }: SheetAnswer | Sheet): SheetWork {
  return { revision, conventions, cells, base: { conventions, cells } };
}

export function bodyOf({ conventions, cells }: Fields): SheetBody {
  const rows = Object.entries(cells).flatMap(([id, own]) => rowOf(id, own) ?? []);
  return { conventions, cells: cells as SheetBody["cells"], rows };
}

export function typed(work: SheetWork, texts: Readonly<Record<string, Cells>>): SheetWork {
  const cells = { ...work.cells };
  for (const [id, fields] of Object.entries(texts)) cells[id] = { ...cells[id], ...fields };
  return { ...work, cells };
}

/** All fields as one list of texts; one that is empty says the same as one that is not there. */
function flat({ conventions, cells }: Fields): Map<string, string> {
  const found = new Map<string, string>(
    Object.entries(conventions).map(([key, value]) => [`conventions ${key}`, String(value)]),
  );
  for (const [id, fields] of Object.entries(cells))
    for (const [column, text] of Object.entries(fields)) if (text !== "") found.set(`${id} ${column}`, text);
  return found;
}

function changes(from: Fields, to: Fields): Map<string, string> {
  const [before, after] = [flat(from), flat(to)];
  const keys = [...new Set([...before.keys(), ...after.keys()])];
  return new Map(
    keys.filter((key) => before.get(key) !== after.get(key)).map((key) => [key, after.get(key) ?? ""]),
  );
}

/** Fields with some of them changed: those whose names are asked for. */
function withChanges(fields: Fields, changed: ReadonlyMap<string, string>): Fields {
  const conventions: Record<string, string> = { ...fields.conventions };
  const cells: Record<string, Record<string, string>> = {};
  for (const [id, own] of Object.entries(fields.cells)) cells[id] = { ...own };
  for (const [key, text] of changed) {
    const at = key.lastIndexOf(" ");
    const [id, column] = [key.slice(0, at), key.slice(at + 1)];
    if (id === "conventions") conventions[column] = text;
    else cells[id] = { ...cells[id], [column]: text };
  }
  return { conventions: conventions as Conventions, cells };
}

/** The fields that both changed, and not alike. */
export function conflicts(base: SheetWork, mine: SheetCopy): string[] {
  const [own, theirs] = [changes(mine.base, mine), changes(mine.base, base)];
  return [...own.keys()].filter((key) => theirs.has(key) && theirs.get(key) !== own.get(key));
}

export const SHEET_KIND: Kind<SheetWork, SheetCopy, SheetAnswer> = {
  pauseMs: 500,
  dirty: (work) => changes(work.base, work).size > 0,
  copyOf: (work) => work,
  opened: workOf,
  acknowledged: (work, sent, { revision }) => ({
    ...work,
    revision,
    base: { conventions: sent.conventions, cells: sent.cells },
  }),
  meet: (base, mine) =>
    conflicts(base, mine).length > 0 ? null : { ...base, ...withChanges(base, changes(mine.base, mine)) },
  // Only the fields that both changed are chosen between; what one alone changed stays.
  chosen: (base, mine, choice) => {
    const own = changes(mine.base, mine);
    if (choice === "theirs") for (const key of conflicts(base, mine)) own.delete(key);
    return { ...base, ...withChanges(base, own) };
  },
  replaced: (_before, after) => after,
};
