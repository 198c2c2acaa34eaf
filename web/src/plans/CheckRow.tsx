// One check in the table: what it is of in words, how exactly, and what else belongs to its kind.
import { Trash2 } from "lucide-react";
import { useId } from "react";
import type { Check, CheckResult, Exercise, Plan, SceneObject } from "../api/types";
import { short } from "../ui/numbers";
import { IconButton, VerdictMark } from "../ui/parts";
import { TypedNumber } from "../ui/TypedNumber";
import { CheckDetails } from "./CheckDetails";
import { KINDS, toleranceOf, unitOf, wordsOf } from "./checks";
import { PlanFields } from "./PlanFields";

type Props = {
  plan: Plan;
  check: Check;
  results: readonly CheckResult[];
  conventions: Exercise["conventions"];
  objects: readonly SceneObject[];
  lit: boolean;
  idle: boolean;
  fine: boolean;
  onLight: () => void;
  onChange: (check: Check) => void;
  onRemove: () => void;
};

const NUMBER = "h-8 w-20 rounded-md border border-edge bg-sheet px-1.5 text-right font-mono";

export function CheckRow(props: Props) {
  const { plan, check, results, conventions, objects, lit, idle, fine, onLight, onChange, onRemove } = props;
  const ids = useId();
  const tolerance = toleranceOf(check);
  const result = results.find((each) => each.id === check.id);
  const words = wordsOf(check, results);
  return (
    <li className={`border-b border-hairline px-2 py-1.5 ${lit ? "bg-plum-soft" : ""}`}>
      <div className="flex flex-wrap items-center gap-2">
        <button
          type="button"
          aria-expanded={lit}
          onClick={onLight}
          className={`min-w-40 flex-1 rounded-sm text-left ${lit ? "font-semibold text-plum" : ""}`}
        >
          {words}
          <span className="block text-sm font-normal text-ink-soft">{KINDS[check.kind]}</span>
        </button>
        <PlanFields plan={plan}>
          {tolerance !== null && (
            <span className="flex flex-wrap items-center gap-1">
              ±
              <TypedNumber
                id={`${ids}tolerance`}
                label={`Tolerance of ${words}`}
                shown={short(tolerance)}
                bounds={{ least: 0 }}
                onTake={(next) => onChange({ ...check, tolerance: next } as Check)}
                className={NUMBER}
              />
              <span className="w-20 text-sm text-ink-soft">{unitOf(check, conventions)}</span>
            </span>
          )}
          <span className="flex items-center gap-1">
            <TypedNumber
              id={`${ids}points`}
              label={`Points of ${words}`}
              shown={short(check.points)}
              bounds={{ least: 0 }}
              onTake={(points) => onChange({ ...check, points } as Check)}
              className="h-8 w-12 rounded-md border border-edge bg-sheet px-1.5 text-right font-mono"
            />
            <span className="text-sm text-ink-soft">{check.points === 1 ? "point" : "points"}</span>
          </span>
          <IconButton label={`Remove ${words}`} onClick={onRemove}>
            <Trash2 size={15} aria-hidden />
          </IconButton>
        </PlanFields>
      </div>
      {lit && (
        <PlanFields plan={plan}>
          <CheckDetails {...{ check, objects, conventions, onChange }} />
        </PlanFields>
      )}
      {result && result.verdict !== "pass" && (
        <p className="text-sm">
          <VerdictMark verdict={result.verdict} /> The reference: {result.text}
        </p>
      )}
      {idle && (
        <p className="text-sm text-near">≈ No typical mistake fails this check. Remove it, or tighten it.</p>
      )}
      {fine && (
        <p className="text-sm text-near">≈ Finer than dragging allows. Widen it, or require typing.</p>
      )}
    </li>
  );
}
