// How exactly: the checks as a table, each lit in the view with its halo, and whether they tell a good answer from a wrong one.
import { useCallback, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import type { Check, Checked, Plan, Proposal, SceneObject, Separation } from "../api/types";
import { SavedMark } from "../saving/SavedMark";
import { passingIds } from "../ui/checks";
import { counted, short } from "../ui/numbers";
import { Button, ErrorNote, Heading, Tick, Waiting } from "../ui/parts";
import { HeadTools } from "../ui/Shell";
import { useShapes } from "../view3d/context";
import { AXIS_INDICES } from "../view3d/matrices";
import { SceneView } from "../view3d/SceneView";
import { UndoTools } from "../workbench/UndoTools";
import { CheckRow } from "./CheckRow";
import { begun, type CheckKind, KINDS, objectsOf, toleranceOf, unitOf, withTolerance } from "./checks";
import { HaloEdges } from "./HaloEdges";
import { SeparationLine } from "./SeparationLine";
import { useAnswered } from "./useAnswered";
import type { PlanControl } from "./usePlan";

type Props = { plan: Plan; control: PlanControl };

export function ChecksScreen({ plan, control }: Props) {
  const { card, put } = control;
  // While a tolerance is dragged it is enough to know what passes; what cannot be told apart is asked for when it rests.
  const apart = !control.dirty;
  const asked = useMemo(() => ({ checks: card.checks, apart }), [card.checks, apart]);
  const ask = useCallback(
    (now: typeof asked) => api.tryChecks(plan.plan, now.checks, now.apart),
    [plan.plan],
  );
  const { answer, why, fresh } = useAnswered<typeof asked, Checked>(asked, ask);
  if (!answer)
    return why ? (
      <main className="p-6">
        <ErrorNote text={why} />
      </main>
    ) : (
      <Waiting what="Working out where every mistake leads…" />
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
  answer: Checked;
  why: string | null;
  fresh: boolean;
  checks: readonly Check[];
  onChecks: OnChecks;
};

/** stretch: what goes on being changed, such as a tolerance under the pointer: it is undone at once. */
type OnChecks = (checks: Check[], stretch?: string) => void;

function Open({ plan, answer, why, fresh, checks, onChecks }: OpenProps) {
  const { exercise, results, separation } = answer;
  const [lit, setLit] = useState<string | null>(checks[0]?.id ?? null);
  const litCheck = checks.find((check) => check.id === lit);
  const objects = exercise.target_objects;
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[minmax(0,5fr)_minmax(0,6fr)] cramped:flex cramped:flex-col cramped:overflow-y-auto">
      <TargetView
        answer={answer}
        lit={litCheck}
        onTolerance={(tolerance) =>
          litCheck && onChecks(withTolerance(checks, litCheck.id, tolerance), `drag ${litCheck.id}`)
        }
      />
      <div className="min-h-0 overflow-y-auto border-l border-hairline bg-sheet p-4 cramped:overflow-visible">
        <AddCheck objects={objects} checks={checks} plan={plan} onChecks={onChecks} onLight={setLit} />
        {why && <ErrorNote text={why} />}
        {checks.length === 0 ? (
          <p className="text-ink-soft">Nothing is checked yet. Propose checks, or add one by hand.</p>
        ) : (
          <ul aria-label="Checks" className="border-t border-hairline">
            {checks.map((check) => (
              <CheckRow
                key={check.id}
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
          <Separates {...{ plan, answer, checks, fresh, onChecks }} lit={litCheck} onLight={setLit} />
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
  answer: Checked;
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

type AddProps = {
  objects: readonly SceneObject[];
  checks: readonly Check[];
  plan: Plan;
  onChecks: OnChecks;
  onLight: (id: string) => void;
};

function AddCheck({ objects, checks, plan, onChecks, onLight }: AddProps) {
  const free = objects.filter((item) => !item.locked);
  const [kind, setKind] = useState<CheckKind>("position");
  const [of, setOf] = useState(free[0]?.id ?? objects[0]?.id ?? "");
  const [proposals, setProposals] = useState<readonly Proposal[] | "asked" | null>(null);
  const item = objects.find((each) => each.id === of);
  const SELECT = "h-8 max-w-44 rounded-md border border-edge bg-sheet px-1";
  return (
    <div className="mb-3">
      <div className="flex flex-wrap items-center gap-2">
        <Button
          look="main"
          disabled={proposals === "asked"}
          onClick={() => {
            setProposals("asked");
            void api.proposals(plan.plan).then((found) => setProposals(found.proposals));
          }}
        >
          {proposals === "asked" ? "Working them out…" : "Propose checks"}
        </Button>
        <span className="ml-auto text-ink-soft">or of</span>
        <select
          aria-label="Object to check"
          value={of}
          onChange={(event) => setOf(event.target.value)}
          className={SELECT}
        >
          {objects.map((each) => (
            <option key={each.id} value={each.id}>
              {each.name}
            </option>
          ))}
        </select>
        <select
          aria-label="What to check"
          value={kind}
          onChange={(event) => setKind(event.target.value as CheckKind)}
          className={SELECT}
        >
          {Object.entries(KINDS).map(([value, text]) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </select>
        <Button
          disabled={!item}
          onClick={() => {
            const check = begun(kind, item!, checks);
            onChecks([...checks, check]);
            onLight(check.id);
          }}
        >
          Add
        </Button>
      </div>
      {Array.isArray(proposals) && (
        <Proposed
          proposals={proposals}
          checks={checks}
          onTake={(taken) => {
            onChecks([...checks, ...taken]);
            if (taken[0]) onLight(taken[0].id);
            setProposals(null);
          }}
          onClose={() => setProposals(null)}
        />
      )}
    </div>
  );
}

type ProposedProps = {
  proposals: readonly Proposal[];
  checks: readonly Check[];
  onTake: (checks: Check[]) => void;
  onClose: () => void;
};

/** What the reference suggests: what it changed is ticked, what may be meant beyond that is offered. */
function Proposed({ proposals, checks, onTake, onClose }: ProposedProps) {
  const there = new Set(checks.map((check) => check.id));
  const fresh = proposals.filter(({ check }) => !there.has(check.id));
  const [taken, setTaken] = useState(
    () => new Set(fresh.filter(({ offered }) => !offered).map(({ check }) => check.id)),
  );
  if (fresh.length === 0)
    return (
      <p role="status" className="mt-2 text-ink-soft">
        {proposals.length === 0
          ? "The reference changes nothing yet; do the exercise under Target first."
          : "All that the reference suggests is checked already."}
      </p>
    );
  return (
    <section aria-label="Proposed checks" className="mt-2 rounded-md border border-hairline p-2">
      <ul className="mb-2 space-y-1">
        {fresh.map(({ check, why, fine, offered }) => (
          <li key={check.id} className="flex flex-wrap items-baseline gap-x-2">
            <Tick
              id={`take ${check.id}`}
              text={`${check.id}${toleranceOf(check) === null ? "" : ` ± ${short(toleranceOf(check)!)}`}`}
              on={taken.has(check.id)}
              onChange={(on) => {
                const next = new Set(taken);
                if (on) next.add(check.id);
                else next.delete(check.id);
                setTaken(next);
              }}
            />
            <span className="text-sm text-ink-soft">
              {why} {fine && "Finer than a drag can do."} {offered && "Only if it is meant."}
            </span>
          </li>
        ))}
      </ul>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Put away</Button>
        <Button
          look="main"
          disabled={taken.size === 0}
          onClick={() => onTake(fresh.flatMap(({ check }) => (taken.has(check.id) ? [check] : [])))}
        >
          Take {counted(taken.size, "check")}
        </Button>
      </div>
    </section>
  );
}

/** The mistake as the steps of a trial: what a student who made it would be told. */
function TakeMistake({ plan, mistake }: { plan: Plan; mistake: number }) {
  const navigate = useNavigate();
  const [problem, setProblem] = useState<string | null>(null);
  return (
    <>
      {problem && <span className="text-fail">{problem}</span>}
      <Button
        onClick={() =>
          void api.takeMistake(plan.plan, mistake).then(
            () => navigate(`/workshop/${plan.plan}/trial`, { replace: true }),
            (error: Error) => setProblem(error.message),
          )
        }
      >
        Try it as a student
      </Button>
    </>
  );
}

type SeparatesProps = {
  plan: Plan;
  answer: Checked;
  checks: readonly Check[];
  fresh: boolean;
  lit: Check | undefined;
  onChecks: OnChecks;
  onLight: (id: string) => void;
};

function Separates({ plan, answer, checks, fresh, lit, onChecks, onLight }: SeparatesProps) {
  const { exercise } = answer;
  const separation = answer.separation!;
  const [chosen, setChosen] = useState<number | null>(null);
  const passing = separation.trials.flatMap((trial, i) =>
    trial.caught_by.length === 0 ? [{ trial, i }] : [],
  );
  const tolerance = lit && toleranceOf(lit);
  const trial = chosen === null ? undefined : separation.trials[chosen];
  return (
    <section aria-label="Does it separate?" className="mt-4">
      <Heading>Does it separate?</Heading>
      <p aria-live="polite" className={passing.length > 0 ? "text-fail" : "text-pass"}>
        {passing.length === 0
          ? `✓ All ${counted(separation.trials.length, "typical mistake")} are caught.`
          : `✕ ${passing.length} of ${counted(separation.trials.length, "typical mistake")} would pass.`}
        {!fresh && <span className="text-ink-soft"> Working it out…</span>}
      </p>
      {lit && tolerance !== null && tolerance !== undefined && (
        <SeparationLine
          separation={separation}
          check={lit.id}
          tolerance={tolerance}
          unit={unitOf(lit, exercise.conventions)}
          chosen={chosen}
          onTolerance={(next) => onChecks(withTolerance(checks, lit.id, next), `drag ${lit.id}`)}
          onChoose={setChosen}
        />
      )}
      <div className="flex min-h-10 items-start gap-2 text-sm">
        <p className="flex-1 text-ink-soft">
          {trial
            ? `${trial.text} ${trial.caught_by.length > 0 ? `Caught by ${trial.caught_by.join(", ")}.` : "It would pass."}`
            : "Choose a mark to see which mistake it is; drag the tolerance, and see what passes."}
        </p>
        {chosen !== null && <TakeMistake plan={plan} mistake={chosen} />}
      </div>
      <Alike separation={separation} />
      <ul className="space-y-1">
        {passing.map(({ trial: each, i }) => (
          <li key={i} className="flex flex-wrap items-baseline gap-2">
            <button type="button" onClick={() => setChosen(i)} className="min-w-40 flex-1 text-left">
              {each.text}
            </button>
            {each.tighter && (
              <Button
                onClick={() => {
                  const { check, tolerance: tighter } = each.tighter!;
                  onChecks(withTolerance(checks, check, tighter));
                  onLight(check);
                }}
              >
                ± {short(each.tighter.tolerance)} catches it
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Mistakes that lead to one spot: which of them it was, nobody can tell. */
function Alike({ separation }: { separation: Separation }) {
  const alike = separation.trials.filter((trial) => trial.same_spot.length > 0);
  if (alike.length === 0) return null;
  return (
    <details className="mb-2 text-sm">
      <summary className="cursor-pointer text-ink-soft">
        {counted(alike.length, "mistake")} cannot be told from another: they lead to the same spot
      </summary>
      <ul className="list-inside list-disc">
        {alike.map((trial) => (
          <li key={`${trial.step} ${trial.code} ${trial.text}`}>{trial.text}</li>
        ))}
      </ul>
    </details>
  );
}
