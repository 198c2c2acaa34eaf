// How far somebody is with an exercise, in words and as a mark.
import type { Work } from "../api/types";
import { percent } from "./numbers";

export function stateWords(work: Work): string {
  if (work.state === "submitted")
    return work.attempts === 1 ? "Submitted" : `Submitted ${work.attempts} times`;
  return work.state === "started" ? "Started" : "Not started";
}

/** The best mark with its verdict. */
export function Mark({ work }: { work: Work }) {
  if (work.score === null) return <span className="text-ink-soft">–</span>;
  return (
    <span className="inline-flex gap-2">
      <span className="font-mono">{percent(work.score)}</span>
      <span className={work.passed ? "font-semibold text-pass" : "font-semibold text-fail"}>
        {work.passed ? "✓ Passed" : "✕ Not passed"}
      </span>
    </span>
  );
}
