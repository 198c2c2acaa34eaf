// A sheet's fields as rows: three numbers make a place, a turn or a scale; what is half typed is not sent. Pure.
import type { SheetRow } from "../api/types";
import { amountOf, readAmount, fieldsOf as tableFields } from "../ui/amount";
import { nth } from "../ui/lists";

export const GROUPS = ["translation", "euler", "scale"] as const;
export type Group = (typeof GROUPS)[number];
export type RowSpace = "world" | "parent";
/** Of one object: what stands in each field by its column, such as "euler1", and the space under "space". */
export type Cells = Readonly<Record<string, string>>;

export const column = (group: Group, i: number): string => `${group}${i}`;

export function spaceIn(cells: Cells): RowSpace {
  return cells.space === "parent" ? "parent" : "world";
}

export type GroupState = "empty" | "half" | "wrong" | "whole";

/** How far three fields are: all empty, some missing, one that is no number, or whole. */
export function stateOf(cells: Cells, group: Group): GroupState {
  const typed = fieldsOf(cells, group);
  if (typed.every((text) => text === "")) return "empty";
  if (typed.some((text) => text !== "" && amountOf(text) === null)) return "wrong";
  return typed.some((text) => text === "") ? "half" : "whole";
}

/** The row of an object; `null` where no group of it is whole. */
export function rowOf(object: string, cells: Cells): SheetRow | null {
  const whole = GROUPS.filter((group) => stateOf(cells, group) === "whole");
  if (whole.length === 0) return null;
  const numbers = (group: Group) =>
    fieldsOf(cells, group).map((text) => amountOf(text)) as [number, number, number];
  const row: SheetRow = { object, space: spaceIn(cells) };
  for (const group of whole) row[group] = numbers(group);
  return row;
}

const COLUMNS = GROUPS.flatMap((group) => [0, 1, 2].map((i) => column(group, i)));

/** Whether pasted text is more than one field. */
export function isTable(text: string): boolean {
  const fields = tableFields(text);
  return fields.length > 1 || (fields[0]?.length ?? 0) > 1;
}

/** The fields of a table that was pasted at a field, or why it does not fit there; it fills right and down from it. */
export function pastedAt(
  text: string,
  objects: readonly string[],
  object: string,
  field: string,
): { texts: Record<string, Cells> } | { why: string } {
  const rows = tableFields(text);
  const ids = objects.slice(objects.indexOf(object));
  const columns = COLUMNS.slice(COLUMNS.indexOf(field));
  const wide = Math.max(...rows.map((row) => row.length));
  if (rows.length > ids.length)
    return {
      why: `The table has ${rows.length} rows, but from here down there are ${ids.length}; nothing was pasted.`,
    };
  if (wide > columns.length)
    return {
      why: `The table has ${wide} columns, but from here on there are ${columns.length}; nothing was pasted.`,
    };
  const entries = rows.map((row, i) => [
    nth(ids, i),
    Object.fromEntries(row.map((cell, j) => [nth(columns, j), cell.slice(0, 100)])),
  ]);
  return { texts: Object.fromEntries(entries) };
}

/** What keeps the sheet from being whole, as one sentence; `null` where nothing does. */
export function troubleIn(
  cells: Readonly<Record<string, Cells>>,
  nameOf: (id: string) => string,
): string | null {
  for (const [id, own] of Object.entries(cells)) {
    for (const group of GROUPS) {
      const state = stateOf(own, group);
      if (state === "wrong") {
        const why = fieldsOf(own, group)
          .filter((text) => text !== "")
          .map(readAmount)
          .find((read) => "why" in read);
        return `${nameOf(id)}: one of the ${WORDS[group]} cannot be read: ${why && "why" in why ? why.why : ""}.`;
      }
      if (state === "half") return `${nameOf(id)}: all three of the ${WORDS[group]} are needed.`;
    }
  }
  return null;
}

const WORDS: Record<Group, string> = {
  translation: "translation’s numbers",
  euler: "angles",
  scale: "scales",
};

function fieldsOf(cells: Cells, group: Group): string[] {
  return [0, 1, 2].map((i) => (cells[column(group, i)] ?? "").trim());
}
