import type { Home } from "../api/types";
import { percent } from "../ui/numbers";

/** What late work costs, for students; nothing if it costs nothing. */
export function lateNote({ kind, per_day, floor }: Home["to_do"][number]["late_policy"]): string {
  if (kind === "does not count") return "late work does not count";
  if (kind !== "per day") return "";
  return `late work loses ${percent(per_day)} per day${floor > 0 ? `, keeps at least ${percent(floor)}` : ""}`;
}
