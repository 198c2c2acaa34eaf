// A typical mistake played beside the right way, a step at a time.
import { useEffect, useMemo, useState } from "react";
import { api } from "../api/client";
import type { Check, Checked, Plan, StepView } from "../api/types";
import { Scrub } from "../result/Scrub";
import { sceneAfter } from "../result/scene";
import { type Place, usePlayed } from "../result/usePlayed";
import { WayView } from "../result/WayView";
import { ErrorNote, Waiting } from "../ui/parts";
import { objectsOf } from "./checks";

type Props = { plan: Plan; answer: Checked; lit: Check | undefined; mistake: number };

export function MistakePlayed({ plan, answer, lit, mistake }: Props) {
  const [steps, setSteps] = useState<readonly StepView[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    api.mistake(plan.plan, mistake).then(
      (way) => setSteps(way.steps),
      (error: Error) => setProblem(error.message),
    );
  }, [plan.plan, mistake]);
  if (problem) return <ErrorNote text={problem} />;
  if (!steps) return <Waiting what="Going the way with the mistake…" />;
  return <Played answer={answer} lit={lit} steps={steps} />;
}

const NONE: ReadonlySet<string> = new Set();

function Played({
  answer,
  lit,
  steps,
}: {
  answer: Checked;
  lit: Check | undefined;
  steps: readonly StepView[];
}) {
  const { exercise, steps: reference } = answer;
  const [place, setPlace] = useState<Place>({ own: 0, right: 0 });
  const [playing, setPlaying] = useState(true);
  usePlayed(playing, place, { own: steps.length, right: reference.length }, setPlace, () =>
    setPlaying(false),
  );
  const go = (part: Partial<Place>) => {
    setPlaying(false);
    setPlace({ ...place, ...part });
  };
  const right = place.right ?? 0;
  const mistaken = useMemo(() => sceneAfter(exercise, steps, place.own), [exercise, steps, place.own]);
  const meant = useMemo(() => sceneAfter(exercise, reference, right), [exercise, reference, right]);
  const lights = useMemo(() => new Set(lit ? [lit.id] : []), [lit]);
  const seen = { exercise, passing: NONE, lit: lights, chosen: lit ? objectsOf(lit).slice(-1) : [] };
  return (
    <section
      aria-label="The mistake beside the right way"
      className="flex min-h-0 flex-col cramped:h-[120vh] cramped:shrink-0"
    >
      <WayView {...seen} shown={mistaken} name="With the mistake" />
      <WayView {...seen} shown={meant} name="The right way" />
      <Scrub label="Mistake" steps={steps} at={place.own} onGo={(own) => go({ own })} />
      <Scrub label="Right way" steps={reference} at={right} onGo={(next) => go({ right: next })} />
    </section>
  );
}
