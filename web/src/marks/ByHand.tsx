// Checks that an instructor judges: a key, or a click, for each number of points.
import { useEffect, useEffectEvent } from "react";
import type { CheckResult, Result } from "../api/types";
import { isTyping } from "../ui/focus";
import { counted, short } from "../ui/numbers";
import { Button, Heading } from "../ui/parts";
import { useReview } from "./useReview";

const MOST_KEYS = 9;

/** The points that have a key: 0 to 9, as far as there are so many. */
export function keysOf(of: number): number[] {
  return Array.from({ length: Math.min(MOST_KEYS, Math.floor(of)) + 1 }, (_, points) => points);
}

export function ByHand({ result }: { result: Result }) {
  const checks = result.report.checks.filter((check) => check.kind === "by-hand");
  const review = useReview(result.submission, () => {});
  const next = checks.find((check) => result.points_set[check.id] === undefined);
  const give = (check: CheckResult, points: number) =>
    review.mutate({ check: check.id, points, text: "", place: null });
  const typed = useEffectEvent((event: KeyboardEvent) => {
    if (!next || review.isPending || isTyping(event.target)) return;
    if (event.ctrlKey || event.metaKey || event.altKey || !/^[0-9]$/.test(event.key)) return;
    if (Number(event.key) <= next.of) give(next, Number(event.key));
  });
  useEffect(() => {
    window.addEventListener("keydown", typed);
    return () => window.removeEventListener("keydown", typed);
  }, []);
  if (checks.length === 0 || !result.may_review) return null;
  return (
    <section aria-label="To judge by hand" className="print:hidden">
      <Heading>To judge by hand</Heading>
      <ul className="space-y-2">
        {checks.map((check) => (
          <li key={check.id} className={check === next ? "border-l-4 border-plum pl-3" : "pl-4"}>
            <p className="font-semibold">{check.label}</p>
            {check.wanted && <p className="text-ink-soft">{check.wanted}</p>}
            <div className="mt-1 flex flex-wrap items-center gap-1">
              {keysOf(check.of).map((points) => (
                <Button
                  key={points}
                  look={result.points_set[check.id] === points ? "main" : "plain"}
                  aria-pressed={result.points_set[check.id] === points}
                  aria-label={`${counted(points, "point")} for ${check.label}`}
                  {...(check === next ? { "aria-keyshortcuts": String(points) } : {})}
                  onClick={() => give(check, points)}
                >
                  {points}
                </Button>
              ))}
              <span className="ml-1 text-sm text-ink-soft">
                of {short(check.of)} {check === next && "(type the number)"}
              </span>
            </div>
          </li>
        ))}
      </ul>
      {review.error && (
        <p role="alert" className="text-fail">
          {review.error.message}
        </p>
      )}
    </section>
  );
}
