import { useMemo, useState } from "react";

export type Sort = { by: string; down: boolean };
type Key = string | number | null;

/** Rows in the order of a key. Blank values come last in both directions. */
export function sorted<Row>(rows: readonly Row[], key: (row: Row) => Key, down: boolean): Row[] {
  const way = down ? -1 : 1;
  return [...rows].sort((one, other) => {
    const [a, b] = [key(one), key(other)];
    if (a === null || b === null) return Number(a === null) - Number(b === null);
    return way * (typeof a === "string" ? a.localeCompare(String(b)) : a - Number(b));
  });
}

/** Rows sorted by one column, at first by `first`. Sorting by the same column again reverses the order. */
export function useSort<Row>(
  rows: readonly Row[],
  keys: Readonly<Record<string, (row: Row) => Key>>,
  first: Sort,
) {
  const [sort, setSort] = useState(first);
  const inOrder = useMemo(() => {
    const key = keys[sort.by];
    return key ? sorted(rows, key, sort.down) : rows;
  }, [rows, keys, sort]);
  const onSort = (by: string) => setSort((now) => ({ by, down: now.by === by && !now.down }));
  return { sorted: inOrder, sort, onSort };
}
