import type { Exception } from "../api/types";
import { counted, dateTime } from "../ui/numbers";

/** What differs for a student, in words. */
export function exceptionWords({ due_at, attempts, excused }: Exception): string {
  return [
    excused && "excused",
    due_at && `due ${dateTime(due_at)}`,
    attempts !== null && `${counted(attempts, "attempt")} allowed`,
  ]
    .filter(Boolean)
    .join(", ");
}
