// A plan on the workshop's bench: its stages, each opened at any time; what is said of it is saved as one goes.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Navigate, useParams } from "react-router";
import { api } from "../api/client";
import type { Plan } from "../api/types";
import { LeaveDialog } from "../saving/LeaveDialog";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { keepFocus } from "../ui/focus";
import { Page } from "../ui/Page";
import { Button, Waiting } from "../ui/parts";
import { usePerson } from "../ui/session";
import { ChecksScreen } from "./ChecksScreen";
import { PlanEditor } from "./PlanEditor";
import { PublishScreen } from "./PublishScreen";
import { conflicts } from "./planCard";
import { STAGES, StageBar, type StageName } from "./StageBar";
import { type PlanControl, usePlan } from "./usePlan";

const UNTITLED = "Untitled exercise";

export function Component() {
  return (
    <Page
      what="plan"
      by="plan"
      kept="while open" // once open, the plan on the screen is the newest there is
      load={api.plan}
      title={(plan) => (plan ? plan.card.title || UNTITLED : "Plan")}
      waiting="Loading the plan…"
    >
      {(plan) => <PlanScreen plan={plan} />}
    </Page>
  );
}

function PlanScreen({ plan }: { plan: Plan }) {
  const person = usePerson().sign_in;
  const control = usePlan(plan, person);
  const stage = useParams().stage ?? "stage";
  const { revision, base } = control.work;
  const [stepsUnkept, setStepsUnkept] = useState(false);
  const cache = useQueryClient();
  // The head of the page says what it is called now.
  useEffect(() => {
    cache.setQueryData<Plan>(["plan", plan.plan], (old) => old && { ...old, card: base });
  }, [cache, plan.plan, base]);
  useEffect(keepFocus); // what was removed may have had the focus
  const soundness = useQuery({
    queryKey: ["soundness", plan.plan, revision, stage],
    queryFn: () => api.soundness(plan.plan),
    placeholderData: (before) => before,
    enabled: !control.dirty,
    gcTime: 0,
  });
  if (!(stage in STAGES)) return <Navigate to={`/workshop/${plan.plan}`} replace />;
  return (
    <>
      <StageBar plan={plan} soundness={soundness.data} />
      {!plan.may_edit && (
        <p role="status" className="border-b border-hairline bg-well px-4 py-1">
          {plan.owner} shared this plan with you for viewing. To change it, make a copy in the library.
        </p>
      )}
      <Opened
        key={stage}
        {...{ plan, control, stage: stage as StageName, person, soundness }}
        onUnkept={setStepsUnkept}
      />
      <LeaveDialog
        unkept={control.dirty || stepsUnkept}
        // From stage to stage the card is saved on; steps are saved by their own stage alone.
        leaves={(path) => stepsUnkept || path.split("/")[2] !== String(plan.plan)}
        title="Not saved yet"
        text="Your last change is not on the server yet. It stays in this browser and is saved when you come back."
      />
      <TwoPlans control={control} />
    </>
  );
}

type OpenedProps = {
  plan: Plan;
  control: PlanControl;
  stage: StageName;
  person: string;
  /** Whether steps of the stage that is open are not saved yet. */
  onUnkept: (unkept: boolean) => void;
  soundness: { data: Awaited<ReturnType<typeof api.soundness>> | undefined; refetch: () => unknown };
};

function Opened({ plan, control, stage, person, onUnkept, soundness }: OpenedProps) {
  // What was typed last belongs to what is opened now; what is typed there goes on.
  const [waiting, setWaiting] = useState(control.dirty && stage !== "stage" && stage !== "checks");
  useEffect(() => setWaiting((still) => still && control.dirty), [control.dirty]);
  if (waiting) return <Waiting what="Saving first…" />;
  switch (stage) {
    case "stage":
    case "target":
    case "trial":
      return (
        <PlanEditor
          {...{ plan, control, person, onUnkept }}
          part={stage === "target" ? "reference" : stage}
        />
      );
    case "checks":
      return <ChecksScreen {...{ plan, control }} />;
    case "publish":
      return <PublishScreen {...{ plan, control }} soundness={soundness.data} again={soundness.refetch} />;
  }
}

const PARTS: Readonly<Record<string, string>> = {
  pass_mark: "the pass mark",
  base: "the start",
};

/** Two windows changed the same parts: which stay. What only one of them changed stays anyway. */
function TwoPlans({ control }: { control: PlanControl }) {
  const { question, answer } = control;
  const names = question
    ? conflicts(question.base, question.mine).map((key) => PARTS[key] ?? `the ${key}`)
    : [];
  return (
    <Dialog
      open={question !== null}
      title="This plan was also changed in another window"
      text={`Both changed ${names.join(" and ")}. Choose which to keep. Undo restores this window’s version.`}
    >
      <DialogButtons>
        <Button onClick={() => answer("theirs")}>The other window’s</Button>
        <Button look="main" onClick={() => answer("mine")}>
          This window’s
        </Button>
      </DialogButtons>
    </Dialog>
  );
}
