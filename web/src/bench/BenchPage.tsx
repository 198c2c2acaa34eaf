// The student's working screen: brief and objects, the view, what is missing, the steps, the step sentence.
import { useQuery } from "@tanstack/react-query";
import { Focus, Keyboard, Maximize, Redo2, Undo2 } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import Markdown from "react-markdown";
import { useBlocker, useParams } from "react-router";
import { api } from "../api/client";
import type { Bench, Poses } from "../api/types";
import { passingIds } from "../ui/checks";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { dateTime } from "../ui/numbers";
import { Button, ErrorNote, Heading, IconButton, Waiting } from "../ui/parts";
import { Shell } from "../ui/Shell";
import { SignedIn, usePerson } from "../ui/session";
import { SceneView } from "../view3d/SceneView";
import { GapCard } from "./GapCard";
import { HandIn } from "./HandIn";
import { KeysDialog } from "./KeysDialog";
import { MoveHandles } from "./MoveHandles";
import { ObjectList } from "./ObjectList";
import { SavedMark } from "./SavedMark";
import { SentenceBar } from "./SentenceBar";
import { StepList } from "./StepList";
import { readSentence } from "./sentence";
import { useBench } from "./store";
import { TwoWindows } from "./TwoWindows";
import { type KeyActions, useBenchKeys } from "./useBenchKeys";
import { type DraftControl, useDraft } from "./useDraft";

export function Component() {
  return (
    <SignedIn>
      <Loaded />
    </SignedIn>
  );
}

function Loaded() {
  const assignment = Number(useParams().assignment);
  const person = usePerson().sign_in;
  const bench = useQuery({
    queryKey: ["bench", assignment],
    queryFn: () => api.bench(assignment),
    // Opened fresh each time; once open, the draft on the screen is the newest there is.
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (bench.data) return <BenchScreen key={assignment} bench={bench.data} person={person} />;
  return (
    <Shell title="Bench">
      <main>
        {bench.error ? (
          <ErrorNote text={bench.error.message} retry={() => bench.refetch()} />
        ) : (
          <Waiting what="Laying out the bench…" />
        )}
      </main>
    </Shell>
  );
}

function BenchScreen({ bench, person }: { bench: Bench; person: string }) {
  const { exercise } = bench;
  const draft = useDraft(bench, person);
  const [helping, setHelping] = useState(false);
  const { sentence, change, markDone, reset } = useBench();
  const fields = useRef<(HTMLInputElement | null)[]>([]);
  const reading = readSentence(sentence, exercise.objects, exercise.conventions.length);

  useEffect(() => reset, [reset]);
  const choose = (object: string | null) => change({ ...useBench.getState().sentence, object });
  const actions: KeyActions = {
    objects: exercise.objects,
    fields,
    commit: () => {
      if (reading.kind !== "ready") return;
      draft.add(reading.step);
      markDone();
      fields.current.find((field) => field === document.activeElement)?.select(); // the next number takes its place
    },
    undo: () => draft.goTo(draft.work.cursor - 1),
    redo: () => draft.goTo(draft.work.cursor + 1),
    choose,
    help: () => setHelping(true),
  };
  useBenchKeys(actions);
  useAskBeforeLeaving(draft.work.dirty);

  return (
    <Shell title={exercise.title} aside={<BenchTools bench={bench} draft={draft} actions={actions} />}>
      <div className="grid min-h-0 flex-1 grid-cols-[15rem_minmax(0,1fr)_19rem]">
        <div className="flex min-h-0 flex-col border-r border-hairline bg-sheet">
          <Brief bench={bench} />
          <ObjectList objects={exercise.objects} chosen={sentence.object} onChoose={choose} />
        </div>
        <main className="relative min-h-0 min-w-0">
          <BenchView bench={bench} draft={draft} onChoose={choose} />
          <ViewTools />
        </main>
        <div className="flex min-h-0 flex-col border-l border-hairline bg-sheet">
          <GapCard gaps={draft.work.gaps} chosen={sentence.object} onChoose={choose} />
          <StepList draft={draft} />
        </div>
      </div>
      <SentenceBar
        exercise={exercise}
        poses={draft.poses}
        reading={reading}
        refusal={draft.refusal}
        fields={fields}
        onCommit={actions.commit}
        onChoose={choose}
      />
      <KeysDialog open={helping} onClose={() => setHelping(false)} />
      <TwoWindows draft={draft} />
      <LeaveDialog dirty={draft.work.dirty} />
    </Shell>
  );
}

type ToolsProps = { bench: Bench; draft: DraftControl; actions: KeyActions };

function BenchTools({ bench, draft, actions }: ToolsProps) {
  const { cursor, entries } = draft.work;
  return (
    <>
      <SavedMark saving={draft.saving} savedAt={draft.work.savedAt} />
      <IconButton label="Undo" keys="Ctrl + Z" disabled={cursor === 0} onClick={actions.undo}>
        <Undo2 size={16} aria-hidden />
      </IconButton>
      <IconButton label="Redo" keys="Ctrl + Y" disabled={cursor === entries.length} onClick={actions.redo}>
        <Redo2 size={16} aria-hidden />
      </IconButton>
      <IconButton label="Keys" keys="?" onClick={actions.help}>
        <Keyboard size={16} aria-hidden />
      </IconButton>
      <HandIn bench={bench} draft={draft} />
    </>
  );
}

function ViewTools() {
  const fitTo = useBench((state) => state.fitTo);
  return (
    <div role="toolbar" aria-label="View" className="absolute top-2 right-2 flex rounded-md bg-sheet/85">
      <IconButton label="See the chosen object" keys="C" onClick={() => fitTo("chosen")}>
        <Focus size={16} aria-hidden />
      </IconButton>
      <IconButton label="See everything" keys="V" onClick={() => fitTo("all")}>
        <Maximize size={16} aria-hidden />
      </IconButton>
    </div>
  );
}

function Brief({ bench }: { bench: Bench }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, and so must be reachable by keyboard
    <section aria-label="Brief" tabIndex={0} className="max-h-[55%] shrink-0 overflow-y-auto p-4">
      <Heading>Brief</Heading>
      <div className="brief">
        <Markdown>{bench.exercise.brief}</Markdown>
      </div>
      <p className="text-sm text-ink-soft">Due {dateTime(bench.due_at)}</p>
    </section>
  );
}

type ViewProps = { bench: Bench; draft: DraftControl; onChoose: (id: string | null) => void };

function BenchView({ bench, draft, onChoose }: ViewProps) {
  const { exercise } = bench;
  const object = useBench((state) => state.sentence.object);
  const drag = useBench((state) => state.drag);
  const fit = useBench((state) => state.fit);
  const poses: Poses = drag ? { ...draft.poses, ...drag.changed } : draft.poses;
  const passing = useMemo(() => passingIds(draft.work.gaps), [draft.work.gaps]);
  const lit = useMemo(
    () => new Set(exercise.halos.filter((halo) => halo.object === object).map((halo) => halo.check)),
    [exercise, object],
  );
  const item = exercise.objects.find((candidate) => candidate.id === object);
  return (
    <SceneView
      exercise={exercise}
      poses={poses}
      chosen={object}
      onChoose={onChoose}
      passing={passing}
      lit={lit}
      fit={fit}
      label={`The scene: ${exercise.objects.length} objects, ${item ? `${item.name} chosen` : "none chosen"}`}
    >
      {item && !item.locked && <MoveHandles object={item.id} poses={draft.poses} onStep={draft.add} />}
    </SceneView>
  );
}

function useAskBeforeLeaving(dirty: boolean): void {
  useEffect(() => {
    if (!dirty) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [dirty]);
}

function LeaveDialog({ dirty }: { dirty: boolean }) {
  const blocker = useBlocker(dirty);
  return (
    <Dialog
      open={blocker.state === "blocked"}
      onClose={() => blocker.reset?.()}
      title="Not saved yet"
      text="The server does not have your last steps yet. They stay in this browser and are saved when you come back."
    >
      <DialogButtons>
        <Button onClick={() => blocker.proceed?.()}>Leave</Button>
        <Button look="main" onClick={() => blocker.reset?.()}>
          Stay here
        </Button>
      </DialogButtons>
    </Dialog>
  );
}
