// Checks put into the table: proposed from the reference, or one by hand.
import { useState } from "react";
import { api } from "../api/client";
import type { Check, Plan, Proposal, SceneObject } from "../api/types";
import { counted, short } from "../ui/numbers";
import { Button, Tick } from "../ui/parts";
import { begun, type CheckKind, KINDS, type OnChecks, toleranceOf } from "./checks";

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
  const SELECT = "h-8 max-w-56 rounded-md border border-edge bg-sheet px-1";
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
