// A typical mistake played beside the reference, a step at a time.
import { useEffect, useMemo, useState } from "react";
import { api } from "../api/client";
import type { Check, Plan, StepView } from "../api/types";
import { Scrub } from "../marks/Scrub";
import { StepsView } from "../marks/StepsView";
import { sceneAfter } from "../marks/scene";
import { type Place, usePlayed } from "../marks/usePlayed";
import { passingIds } from "../ui/checks";
import { ErrorNote } from "../ui/parts";
import { objectsOf, type Whole } from "./checks";

type Props = { plan: Plan; answer: Whole; lit: Check | undefined; mistake: number };

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
  if (!steps)
    return (
      <p role="status" className="p-8 text-ink-soft">
        Loading the mistake…
      </p>
    );
  return <Played {...{ answer, lit, steps, mistake }} />;
}

const NONE: ReadonlySet<string> = new Set();

type PlayedProps = Omit<Props, "plan"> & { steps: readonly StepView[] };

function Played({ answer, lit, steps, mistake }: PlayedProps) {
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
  const caught = answer.separation?.trials[mistake]?.caught_by;
  const passed = useMemo(() => passingIds(answer.results), [answer]);
  const missed = useMemo(() => new Set([...passed].filter((id) => !caught?.includes(id))), [passed, caught]);
  const seen = { exercise, lit: lights, chosen: lit ? objectsOf(lit).slice(-1) : [] };
  return (
    <section
      aria-label="The mistake beside the reference"
      className="flex min-h-0 flex-col cramped:h-[120vh] cramped:shrink-0"
    >
      <StepsView
        {...seen}
        shown={mistaken}
        passing={place.own === steps.length ? missed : NONE}
        name="With the mistake"
      />
      <StepsView
        {...seen}
        shown={meant}
        passing={right === reference.length ? passed : NONE}
        name="The reference"
      />
      <Scrub label="Mistake" steps={steps} at={place.own} onGo={(own) => go({ own })} />
      <Scrub label="Reference" steps={reference} at={right} onGo={(next) => go({ right: next })} />
    </section>
  );
}
