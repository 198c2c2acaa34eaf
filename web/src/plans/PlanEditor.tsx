// The bench for a part of a plan: what is given, the way to the target, or a trial as a student has it.
import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import Markdown from "react-markdown";
import { api } from "../api/client";
import type { Judged, PlanEditor as Opened, Plan, PlanPart, SceneObject } from "../api/types";
import { ConflictDialog } from "../editing/ConflictDialog";
import { useDraft } from "../editing/useDraft";
import { placeOf } from "../saving/copies";
import { SavedMark } from "../saving/SavedMark";
import type { StepOf } from "../state/sentence";
import { Button, ErrorNote, Tick, Waiting } from "../ui/parts";
import { DownloadDialog } from "../work/DownloadDialog";
import type { WorkControl } from "../workbench/Workbench";
import { Workbench } from "../workbench/Workbench";
import { ObjectCard } from "./ObjectCard";
import { PlanFields } from "./PlanFields";
import { Rack } from "./Rack";
import { SceneCard } from "./SceneCard";
import { TrialResult } from "./TrialResult";
import type { PlanControl } from "./usePlan";

type Props = {
  plan: Plan;
  part: PlanPart;
  control: PlanControl;
  person: string;
  /** Whether steps are not saved yet. */
  onUnkept: (unkept: boolean) => void;
};

export function PlanEditor(props: Props) {
  const { plan, part, control } = props;
  const { base, conventions } = control.work.base;
  const given = JSON.stringify([base, conventions]); // what the steps are done on
  const found = useQuery({
    queryKey: ["plan part", plan.plan, part, given],
    queryFn: () => api.planPart(plan.plan, part),
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  if (found.error)
    return (
      <main className="p-6">
        <ErrorNote text={found.error.message} retry={() => found.refetch()} />
      </main>
    );
  if (!found.data) return <Waiting what="Loading…" />;
  // In other conventions all of it is laid out anew; where only what is given changed, what is being typed stays.
  const anew = JSON.stringify(found.data.exercise.conventions);
  return <OpenEditor key={anew} {...props} opened={found.data} />;
}

type OpenProps = Props & { opened: Opened };

function OpenEditor({ plan, part, control, person, onUnkept, opened }: OpenProps) {
  const { exercise, draft } = opened;
  const editor = useMemo(() => api.planEditor(plan.plan, part), [plan.plan, part]);
  const steps = useDraft({
    editor,
    exercise,
    draft,
    person,
    place: placeOf(`plan ${part}`, person, plan.plan),
    viewOnly: !plan.may_edit && part !== "trial",
  });
  useEffect(() => {
    onUnkept(steps.dirty);
    return () => onUnkept(false);
  }, [steps.dirty, onUnkept]);
  const { card, put } = control;
  const { meet } = control;
  const convert = useCallback(
    (conventions: Plan["card"]["conventions"], keep: "picture" | "numbers") => {
      // What was saved last is what is converted: the server says which it is.
      void api
        .plan(plan.plan)
        .then(({ seen }) => api.setConventions(plan.plan, { seen, conventions, keep }))
        .then(meet, (error: Error) => setProblem(error.message));
    },
    [plan.plan, meet],
  );
  const freeze = useCallback(
    (frozen: boolean) => {
      if (!frozen) return put("target", null);
      void api
        .plan(plan.plan)
        .then(({ seen }) => api.freezeTarget(plan.plan, seen))
        .then(meet, (error: Error) => setProblem(error.message));
    },
    [plan.plan, meet, put],
  );
  const { conventions } = exercise;
  // The id of a solid from the rack until its card is shown: then its first size is selected.
  const [added, setAdded] = useState<string | null>(null);
  const shown = useCallback(() => setAdded(null), []);
  const { add } = steps;
  const addSolid = useCallback(
    (step: StepOf<"add">) => {
      add(step);
      setAdded(step.object.id);
    },
    [add],
  );
  const about = useMemo(() => {
    switch (part) {
      case "stage":
        return [
          {
            name: "Scene",
            body: (
              <PlanFields plan={plan}>
                <SceneCard card={card} put={put} onConvert={convert} />
              </PlanFields>
            ),
          },
          { name: "Rack", body: <Rack setting={steps.setting} onAdd={addSolid} /> },
        ];
      case "reference":
        return [
          {
            name: "Target",
            body: (
              <PlanFields plan={plan}>
                <TargetCard frozen={Boolean(card.target)} onFreeze={freeze} />
              </PlanFields>
            ),
          },
        ];
      case "trial":
        return [{ name: "Brief", body: <Brief text={card.brief} /> }];
    }
  }, [plan, part, card, put, convert, freeze, steps.setting, addSolid]);
  const beside = (item: SceneObject | undefined, work: WorkControl) => ({
    name: "Object",
    body: (
      <PlanFields plan={plan}>
        <ObjectCard {...{ item, work, card, put, added }} conventions={conventions} onShown={shown} />
      </PlanFields>
    ),
  });
  const [judged, setJudged] = useState<Judged | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const judge = () => {
    setProblem(null);
    api.tryTrial(plan.plan).then(setJudged, (error: Error) => setProblem(error.message));
  };
  const ready = part === "trial" && steps.work.cursor > 0 && !steps.dirty;
  if (judged) return <TrialResult judged={judged} onBack={() => setJudged(null)} />;
  const saving = control.saving === "saved" ? steps.saving : control.saving;
  return (
    <>
      <Workbench
        exercise={exercise}
        control={steps}
        about={about}
        beside={part === "trial" ? undefined : beside}
        state={<SavedMark saving={saving} savedAt={steps.work.savedAt} />}
        finish={
          <>
            <DownloadDialog sources={sourcesOf(plan.plan)} conventions={conventions} />
            {part === "trial" && (
              <Button look="main" disabled={!ready} onClick={judge}>
                See result
              </Button>
            )}
          </>
        }
        onFinish={() => ready && judge()}
      />
      {problem && <ErrorNote text={problem} />}
      <ConflictDialog draft={steps} />
    </>
  );
}

function sourcesOf(plan: number) {
  return [
    { name: "Start", address: `/api/plans/${plan}/scenes/start` },
    { name: "The target", address: `/api/plans/${plan}/scenes/target` },
  ];
}

function TargetCard({ frozen, onFreeze }: { frozen: boolean; onFreeze: (frozen: boolean) => void }) {
  return (
    <div className="space-y-2">
      <p>Solve the exercise yourself. Where your steps lead is the target.</p>
      <p className="text-ink-soft">
        Students never see these steps before they submit. Checks and causes are worked out from them.
      </p>
      <Tick id="frozen-target" text="Freeze this target" on={frozen} onChange={onFreeze} />
      {frozen && (
        <p className="text-sm text-ink-soft">
          The target is frozen. Steps that lead elsewhere now miss it; without steps, no cause can be found.
        </p>
      )}
    </div>
  );
}

function Brief({ text }: { text: string }) {
  return (
    <>
      <p className="mb-2 text-sm text-ink-soft">This is what a student sees. Nothing you do here counts.</p>
      <div className="brief">
        <Markdown>{text}</Markdown>
      </div>
    </>
  );
}
