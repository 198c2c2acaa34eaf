// The stages of making an exercise, in the author's order; any can be opened at any time.
import { NavLink } from "react-router";
import type { Plan, Soundness } from "../api/types";

export const STAGES = {
  stage: "Stage",
  target: "Target",
  checks: "Checks",
  trial: "Trial run",
  publish: "Publish",
} as const;
export type StageName = keyof typeof STAGES;

type Props = { plan: Plan; soundness: Soundness | undefined };

export function StageBar({ plan, soundness }: Props) {
  return (
    <nav aria-label="Stages" className="flex shrink-0 gap-1 border-b border-hairline bg-sheet px-3 py-1">
      {(Object.keys(STAGES) as StageName[]).map((stage) => (
        <NavLink
          key={stage}
          to={`/workshop/${plan.plan}/${stage}`}
          replace
          className={({ isActive }) =>
            `inline-flex h-8 items-center gap-2 rounded-md px-3 ${isActive ? "bg-plum-soft font-semibold text-plum" : "hover:bg-well"}`
          }
        >
          {STAGES[stage]}
          <Trouble count={troubles(stage, soundness)} />
        </NavLink>
      ))}
    </nav>
  );
}

function Trouble({ count }: { count: number }) {
  if (count === 0) return null;
  return (
    <span className="rounded-full bg-fail px-1.5 text-xs leading-4 font-semibold text-paper">
      {count}
      <span className="sr-only"> to mend</span>
    </span>
  );
}

/** What stops it, by the stage at which it is mended; all of it before it is published. */
function troubles(stage: StageName, soundness: Soundness | undefined): number {
  const stopping = soundness?.findings.filter((finding) => finding.stops) ?? [];
  return stage === "publish" ? stopping.length : stopping.filter((each) => each.place === stage).length;
}
