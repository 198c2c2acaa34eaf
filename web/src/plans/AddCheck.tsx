// Checks put into the table: proposed from the reference, or one by hand.
import { useState } from "react";
import { api } from "../api/client";
import type { Check, Exercise, Plan, Proposal, SceneObject } from "../api/types";
import { counted, short } from "../ui/numbers";
import { Button, Tick } from "../ui/parts";
import { Select } from "../ui/Select";
import { begun, type CheckKind, KINDS, type OnChecks, toleranceOf, unitOf } from "./checks";

type AddProps = {
  objects: readonly SceneObject[];
  checks: readonly Check[];
  plan: Plan;
  onChecks: OnChecks;
  onLight: (id: string) => void;
};

export function AddCheck({ objects, checks, plan, onChecks, onLight }: AddProps) {
  const free = objects.filter((item) => !item.locked);
  const [kind, setKind] = useState<CheckKind>("position");
  const [of, setOf] = useState(free[0]?.id ?? objects[0]?.id ?? "");
  const [proposals, setProposals] = useState<readonly Proposal[] | "asked" | null>(null);
  const item = objects.find((each) => each.id === of);
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
          {proposals === "asked" ? "Finding checks…" : "Propose checks"}
        </Button>
        <span className="ml-auto text-ink-soft">Add a check:</span>
        <Select
          label="What to check"
          value={kind}
          options={Object.entries(KINDS).map(([value, text]) => ({ value, text }))}
          onChange={(value) => setKind(value as CheckKind)}
        />
        <span className="text-ink-soft">of</span>
        <Select
          label="Object to check"
          value={of}
          options={objects.map((each) => ({ value: each.id, text: each.name }))}
          onChange={setOf}
        />
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
          conventions={plan.card.conventions}
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

/** ", within 0.2 m": the tolerance of a check, if it has one number. */
function withinWords(check: Check, conventions: Exercise["conventions"]): string {
  const tolerance = toleranceOf(check);
  if (tolerance === null) return "";
  const unit = unitOf(check, conventions);
  return `, within ${short(tolerance)}${unit === "°" ? "" : " "}${unit}`.trimEnd();
}

type ProposedProps = {
  conventions: Exercise["conventions"];
  proposals: readonly Proposal[];
  checks: readonly Check[];
  onTake: (checks: Check[]) => void;
  onClose: () => void;
};

/** What the reference suggests: what it changed is ticked, what may be meant beyond that is offered. */
function Proposed({ conventions, proposals, checks, onTake, onClose }: ProposedProps) {
  const there = new Set(checks.map((check) => check.id));
  const fresh = proposals.filter(({ check }) => !there.has(check.id));
  const [taken, setTaken] = useState(
    () => new Set(fresh.filter(({ offered }) => !offered).map(({ check }) => check.id)),
  );
  if (fresh.length === 0)
    return (
      <p role="status" className="mt-2 text-ink-soft">
        {proposals.length === 0
          ? "The reference changes nothing yet. Solve the exercise under Target first."
          : "Everything that the reference suggests is checked already."}
      </p>
    );
  return (
    <section aria-label="Proposed checks" className="mt-2 rounded-md border border-hairline p-2">
      <ul className="mb-2 space-y-1">
        {fresh.map(({ check, label, why, fine, offered }) => (
          <li key={check.id} className="flex flex-wrap items-baseline gap-x-2">
            <Tick
              id={`take ${check.id}`}
              text={`${label}${withinWords(check, conventions)}`}
              on={taken.has(check.id)}
              onChange={(on) => {
                const next = new Set(taken);
                if (on) next.add(check.id);
                else next.delete(check.id);
                setTaken(next);
              }}
            />
            <span className="text-sm text-ink-soft">
              {why} {fine && "Finer than dragging allows."} {offered && "Only if you mean it."}
            </span>
          </li>
        ))}
      </ul>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Close</Button>
        <Button
          look="main"
          disabled={taken.size === 0}
          onClick={() => onTake(fresh.flatMap(({ check }) => (taken.has(check.id) ? [check] : [])))}
        >
          Add {counted(taken.size, "check")}
        </Button>
      </div>
    </section>
  );
}
