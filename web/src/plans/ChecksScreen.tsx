// How exactly: the checks as a table, each lit in the view with its halo, and whether they tell a good answer from a wrong one.
import { useCallback, useMemo, useState } from "react";
import { api } from "../api/client";
import type { Check, Plan } from "../api/types";
import { SavedMark } from "../saving/SavedMark";
import { passingIds } from "../ui/checks";
import { ErrorNote, Waiting } from "../ui/parts";
import { HeadTools } from "../ui/Shell";
import { useNewest } from "../ui/useNewest";
import { useShapes } from "../view3d/context";
import { AXIS_INDICES } from "../view3d/matrices";
import { SceneView } from "../view3d/SceneView";
import { UndoTools } from "../workbench/UndoTools";
import { AddCheck } from "./AddCheck";
import { CheckRow } from "./CheckRow";
import { type OnChecks, objectsOf, toleranceOf, type Whole, withTolerance } from "./checks";
import { HaloEdges } from "./HaloEdges";
import { MistakePlayed } from "./MistakePlayed";
import { PassingMistakes } from "./PassingMistakes";
import { PlanFields } from "./PlanFields";
import type { PlanControl } from "./usePlan";

type Props = { plan: Plan; control: PlanControl };

export function ChecksScreen({ plan, control }: Props) {
  const { card, put } = control;
  // While a tolerance is dragged it is enough to know what passes; all else is asked for when it rests.
  const apart = !control.dirty;
  const asked = useMemo(() => ({ checks: card.checks, apart }), [card.checks, apart]);
  const ask = useCallback(
    async (now: typeof asked, _signal: AbortSignal, before: Whole | null): Promise<Whole> => {
      const checked = await api.tryChecks(plan.plan, now.checks, now.apart || before === null);
      const exercise = checked.exercise ?? before?.exercise;
      if (!exercise) throw new Error("The server sent no exercise; load the page again.");
      const steps = checked.exercise ? checked.steps : (before?.steps ?? checked.steps);
      return { ...checked, steps, exercise: { ...exercise, halos: checked.halos } };
    },
    [plan.plan],
  );
  const { answer, why, fresh } = useNewest(asked, ask);
  if (!answer)
    return why ? (
      <main className="p-6">
        <ErrorNote text={why} />
      </main>
    ) : (
      <Waiting what="Trying typical mistakes…" />
    );
  return (
    <>
      <HeadTools>
        <SavedMark saving={control.saving} />
        <UndoTools
          canUndo={control.work.past.length > 0}
          canRedo={control.work.future.length > 0}
          onUndo={control.undo}
          onRedo={control.redo}
        />
      </HeadTools>
      <Open
        {...{ plan, answer, why, fresh }}
        checks={card.checks}
        onChecks={(checks, stretch) => put("checks", checks, stretch)}
      />
    </>
  );
}

type OpenProps = {
  plan: Plan;
  answer: Whole;
  why: string | null;
  fresh: boolean;
  checks: readonly Check[];
  onChecks: OnChecks;
};

function Open({ plan, answer, why, fresh, checks, onChecks }: OpenProps) {
  const { exercise, results, separation } = answer;
  const [lit, setLit] = useState<string | null>(checks[0]?.id ?? null);
  const [chosen, setChosen] = useState<number | null>(null);
  const litCheck = checks.find((check) => check.id === lit);
  const objects = exercise.target_objects;
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[minmax(0,5fr)_minmax(0,6fr)] cramped:flex cramped:flex-col cramped:overflow-y-auto">
      {chosen === null ? (
        <TargetView
          answer={answer}
          lit={litCheck}
          onTolerance={(tolerance) =>
            litCheck && onChecks(withTolerance(checks, litCheck.id, tolerance), `drag ${litCheck.id}`)
          }
        />
      ) : (
        <MistakePlayed key={chosen} plan={plan} answer={answer} lit={litCheck} mistake={chosen} />
      )}
      <div className="min-h-0 overflow-y-auto border-l border-hairline bg-sheet p-4 cramped:overflow-visible">
        <PlanFields plan={plan}>
          <AddCheck objects={objects} checks={checks} plan={plan} onChecks={onChecks} onLight={setLit} />
        </PlanFields>
        {why && <ErrorNote text={why} />}
        {checks.length === 0 ? (
          <p className="text-ink-soft">No checks yet. Propose checks, or add one.</p>
        ) : (
          <ul aria-label="Checks" className="border-t border-hairline">
            {checks.map((check) => (
              <CheckRow
                key={check.id}
                plan={plan}
                check={check}
                results={results}
                conventions={exercise.conventions}
                objects={objects}
                lit={check.id === lit}
                idle={separation?.idle.includes(check.id) ?? false}
                fine={separation?.typing.includes(check.id) ?? false}
                onLight={() => setLit(check.id === lit ? null : check.id)}
                onChange={(next) => onChecks(checks.map((each) => (each.id === check.id ? next : each)))}
                onRemove={() => onChecks(checks.filter((each) => each.id !== check.id))}
              />
            ))}
          </ul>
        )}
        {separation && checks.length > 0 && (
          <PassingMistakes
            {...{ plan, answer, checks, fresh, chosen, onChecks }}
            lit={litCheck}
            onLight={setLit}
            onChoose={setChosen}
          />
        )}
      </div>
    </main>
  );
}

const FIT = { what: "work", turn: 0 } as const;

function TargetView({
  answer,
  lit,
  onTolerance,
}: {
  answer: Whole;
  lit: Check | undefined;
  onTolerance: (tolerance: number) => void;
}) {
  const { exercise, results } = answer;
  const shapes = useShapes(exercise.target_objects, exercise.conventions.up);
  const poses = useMemo(() => ({ ...exercise.start, ...exercise.target }), [exercise]);
  const passing = useMemo(() => passingIds(results), [results]);
  const id = lit?.id;
  const only = useMemo(() => new Set(id === undefined ? [] : [id]), [id]);
  const halo = exercise.halos.find((each) => each.check === id);
  const tolerance = lit ? toleranceOf(lit) : null;
  return (
    <div className="relative min-h-0 cramped:h-[60vh] cramped:shrink-0">
      <SceneView
        exercise={exercise}
        objects={exercise.target_objects}
        poses={poses}
        shapes={shapes}
        chosen={lit ? objectsOf(lit).slice(-1) : []}
        passing={passing}
        lit={only}
        fit={FIT}
        label="The target with the halos of its checks"
      >
        {halo && lit?.kind === "position" && tolerance !== null && (
          <HaloEdges
            halo={halo}
            axes={AXIS_INDICES.filter((axis) => lit.axes.includes("xyz"[axis]!))}
            tolerance={tolerance}
            unit={exercise.conventions.length}
            onTolerance={onTolerance}
          />
        )}
      </SceneView>
    </div>
  );
}
