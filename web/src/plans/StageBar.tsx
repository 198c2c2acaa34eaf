// The stages of making an exercise, in the author's order; any can be opened at any time.
import { NavLink } from "react-router";
import type { Plan, Soundness } from "../api/types";
import { counted } from "../ui/numbers";

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
        <StageLink key={stage} to={`/workshop/${plan.plan}/${stage}`} stage={stage} soundness={soundness} />
      ))}
    </nav>
  );
}

export type Stands = { how: "trouble" | "doubt" | "sound" | "untouched"; count: number } | null;

type LinkProps = { to: string; stage: StageName; soundness: Soundness | undefined };

function StageLink({ to, stage, soundness }: LinkProps) {
  const stands = soundness ? standingOf(stage, soundness) : null;
  const sign = stands && SIGNS[stands.how];
  return (
    <NavLink
      to={to}
      replace
      title={sign ? sign.words(stands.count) : undefined}
      className={({ isActive }) =>
        `inline-flex h-8 items-center gap-2 rounded-md px-3 ${isActive ? "bg-plum-soft font-semibold text-plum" : "hover:bg-well"}`
      }
    >
      {STAGES[stage]}
      {sign && (
        <span aria-hidden className={`text-sm font-semibold ${sign.colour}`}>
          {sign.sign} {stands.count > 0 && stands.count}
        </span>
      )}
    </NavLink>
  );
}

const SIGNS = {
  trouble: { sign: "✕", colour: "text-fail", words: (count: number) => `${count} to fix` },
  doubt: { sign: "≈", colour: "text-near", words: (count: number) => counted(count, "warning") },
  sound: { sign: "✓", colour: "text-pass", words: () => "No problems" },
  untouched: { sign: "○", colour: "text-ink-soft", words: () => "Empty" },
};

/** How a stage stands; a trial has nothing that could be unsound, and behind what stops it nothing is known yet. */
export function standingOf(stage: StageName, { findings, untouched }: Soundness): Stands {
  if (stage === "trial") return null;
  const placeOf = ({ place }: Soundness["findings"][number]) => (place === "brief" ? "stage" : place);
  const own = stage === "publish" ? findings : findings.filter((each) => placeOf(each) === stage);
  if (stage !== "publish" && untouched.includes(stage)) return { how: "untouched", count: 0 };
  const stopping = own.filter((each) => each.stops).length;
  if (stopping > 0) return { how: "trouble", count: stopping };
  if (own.length > 0) return { how: "doubt", count: own.length };
  return findings.some((each) => each.stops && placeOf(each) !== "checks")
    ? null
    : { how: "sound", count: 0 };
}
