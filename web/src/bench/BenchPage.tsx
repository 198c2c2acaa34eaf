// The student's working screen: brief and objects, the view, what is missing, the steps, the step sentence.

import { useQuery } from "@tanstack/react-query";
import { CircleHelp, Redo2, Undo2 } from "lucide-react";
import { memo, useCallback, useEffect, useMemo, useRef, useState } from "react";
import Markdown from "react-markdown";
import { api } from "../api/client";
import type { Bench, SceneObject, SceneState, Step } from "../api/types";
import { NotFound } from "../home/NotFound";
import { LeaveDialog } from "../saving/LeaveDialog";
import { SavedMark } from "../saving/SavedMark";
import { passingIds } from "../ui/checks";
import { dateTime } from "../ui/numbers";
import { IconButton, NoPage, Waiting } from "../ui/parts";
import { HeadTools, Shell } from "../ui/Shell";
import { SignedIn, usePerson } from "../ui/session";
import { TabCard } from "../ui/TabCard";
import { useNumber } from "../ui/useNumber";
import { listed } from "../ui/words";
import type { Directions } from "../view3d/camera";
import { type Shape, useShapes } from "../view3d/context";
import { FramePicker, type Framer } from "../view3d/FramePicker";
import { MarkerSign } from "../view3d/MarkerSign";
import { type Choice, SceneView } from "../view3d/SceneView";
import { Announcer } from "./Announcer";
import { boxesOf, canRedo, canUndo, settingAfter } from "./draft";
import { ElevationStrip, useShownPoses } from "./ElevationStrip";
import { FrameOverlay } from "./FrameOverlay";
import { GapCard } from "./GapCard";
import { HandIn } from "./HandIn";
import { Handles } from "./Handles";
import { HelpDialog } from "./HelpDialog";
import { NumbersCard } from "./NumbersCard";
import { ObjectList } from "./ObjectList";
import { PlaceMenu } from "./PlaceMenu";
import { PointDots } from "./PointDots";
import type { Setting } from "./preview";
import { SentenceBar } from "./SentenceBar";
import { StepList } from "./StepList";
import { nudgeSentence, readSentence } from "./sentence";
import { firstSizes } from "./sizes";
import { useBench, useBenchParts } from "./store";
import { TwoWindows } from "./TwoWindows";
import { type KeyActions, useBenchKeys } from "./useBenchKeys";
import { type DraftControl, useDraft } from "./useDraft";
import { useLook } from "./useLook";
import { ViewTools } from "./ViewTools";

export function Component() {
  return (
    <SignedIn>
      <Loaded />
    </SignedIn>
  );
}

function Loaded() {
  const assignment = useNumber("assignment");
  return assignment === null ? <NotFound /> : <Opened assignment={assignment} />;
}

function Opened({ assignment }: { assignment: number }) {
  const person = usePerson().sign_in;
  const bench = useQuery({
    queryKey: ["bench", assignment],
    queryFn: () => api.bench(assignment),
    // Opened fresh each time; once open, the draft on the screen is the newest there is.
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <Shell title={bench.data?.exercise.title ?? "Bench"}>
      {bench.data ? (
        <BenchScreen key={assignment} bench={bench.data} person={person} />
      ) : bench.error ? (
        <NoPage error={bench.error} retry={() => bench.refetch()} classPage={`/class/${assignment}`} />
      ) : (
        <Waiting what="Laying out the bench…" />
      )}
    </Shell>
  );
}

function BenchScreen({ bench, person }: { bench: Bench; person: string }) {
  const { exercise } = bench;
  const { conventions } = exercise;
  const draft = useDraft(bench, person);
  const state = useLook(bench.assignment, draft);
  const looking = useBench((view) => view.looking);
  const [helping, setHelping] = useState(false);
  const { sentence, directions, change, markDone, reset, set } = useBenchParts(
    "sentence",
    "directions",
    "change",
    "markDone",
    "reset",
    "set",
  );
  const fields = useRef<(HTMLInputElement | null)[]>([]);
  const setting = useSetting(bench, draft, state, looking);
  const reading = readSentence(sentence, setting.objects, conventions, directions, state.readings);
  const target = setting.objects.find((item) => item.id === sentence.objects.at(-1));

  useEffect(() => {
    set({ sizes: firstSizes(conventions) });
    return reset;
  }, [conventions, set, reset]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: after any change of the work, the work is what is shown
  useEffect(() => set({ looking: null }), [draft.work.entries, set]);
  const choose = useCallback(
    (objects: readonly string[]) => change({ ...useBench.getState().sentence, objects }),
    [change],
  );
  const busy = useBench((view) => view.lookOnly) || looking !== null;
  const add = useCallback(
    (step: Step) => {
      const view = useBench.getState();
      if (view.lookOnly)
        return set({ warning: "Look only is on, so nothing can be moved; switch it off to go on." });
      if (view.looking !== null)
        return set({ warning: "You are looking at an earlier step; go back to the newest first." });
      draft.add(step);
    },
    [draft.add, set],
  );
  const actions: KeyActions = {
    objects: setting.objects,
    fields,
    commit: () => {
      if (reading.kind !== "ready") return;
      add(reading.step);
      markDone();
      fields.current.find((field) => field === document.activeElement)?.select(); // the next number takes its place
    },
    nudge: (way) => {
      const nudged = nudgeSentence(useBench.getState(), way);
      const asked = readSentence(nudged, setting.objects, conventions, directions, state.readings);
      if (asked.kind === "ready") add({ ...asked.step, entry: "nudged" });
      else set({ warning: asked.why });
    },
    undo: draft.undo,
    redo: draft.redo,
    choose,
    lookBy: (way) => {
      const { cursor } = draft.work;
      const next = Math.max(0, Math.min((looking ?? cursor) + way, cursor));
      set({ looking: next === cursor ? null : next });
    },
    help: () => setHelping(true),
    handIn: () => set({ handingIn: draft.work.cursor > 0 }),
  };
  useBenchKeys(actions);
  const shapes = useShapes(setting.objects, conventions.up);

  return (
    <>
      <HeadTools>
        <BenchTools bench={bench} draft={draft} actions={actions} onStep={add} />
      </HeadTools>
      <div className="grid min-h-0 flex-1 grid-cols-[15rem_minmax(0,1fr)_19rem] grid-rows-[minmax(0,1fr)_auto] cramped:flex cramped:flex-col cramped:overflow-y-auto">
        <div className="flex min-h-0 flex-col border-r border-hairline bg-sheet cramped:order-4 cramped:shrink-0 cramped:border-r-0">
          <BriefAndObjects bench={bench} objects={setting.objects} onChoose={choose} />
          <ElevationStrip exercise={exercise} setting={setting} shapes={shapes} gaps={state.gaps} />
        </div>
        <main className="@container relative min-h-0 min-w-0 cramped:order-1 cramped:h-[max(14rem,60vh)] cramped:shrink-0">
          <BenchView
            bench={bench}
            setting={setting}
            shapes={shapes}
            gaps={state.gaps}
            fixed={busy}
            onChoose={choose}
            onStep={add}
          />
          <ViewTools />
        </main>
        <div className="flex min-h-0 flex-col border-l border-hairline bg-sheet cramped:order-3 cramped:shrink-0 cramped:border-t cramped:border-l-0">
          <GapsAndNumbers
            bench={bench}
            state={state}
            setting={setting}
            item={target}
            onChoose={choose}
            onSteps={(steps) => steps.forEach(add)}
          />
          <StepList work={draft.work} onEdit={draft.edit} />
        </div>
        <SentenceBar
          conventions={conventions}
          objects={setting.objects}
          readings={state.readings}
          reading={reading}
          refusal={draft.refusal}
          fields={fields}
          onCommit={actions.commit}
          onNudge={actions.nudge}
          onChoose={choose}
        />
      </div>
      <Announcer bench={bench} work={draft.work} />
      <HelpDialog open={helping} onClose={() => setHelping(false)} />
      <TwoWindows draft={draft} />
      <LeaveDialog
        unkept={draft.dirty}
        title="Not saved yet"
        text="The server does not have your last steps yet. They stay in this browser and are saved when you come back."
      />
    </>
  );
}

/** The scene that is shown: as the work stands, or after an earlier step. */
function useSetting(bench: Bench, draft: DraftControl, state: SceneState, looking: number | null): Setting {
  const { entries } = draft.work;
  return useMemo(
    () => (looking === null ? draft.setting : settingAfter(bench.exercise, entries, looking, boxesOf(state))),
    [bench, draft.setting, entries, looking, state],
  );
}

type ToolsProps = { bench: Bench; draft: DraftControl; actions: KeyActions; onStep: (step: Step) => void };

function BenchTools({ bench, draft, actions, onStep }: ToolsProps) {
  return (
    <>
      <SavedMark saving={draft.saving} savedAt={draft.work.savedAt} />
      <PlaceMenu objects={draft.setting.objects} onStep={onStep} />
      <IconButton label="Undo" keys="Ctrl + Z" disabled={!canUndo(draft.work)} onClick={actions.undo}>
        <Undo2 size={16} aria-hidden />
      </IconButton>
      <IconButton label="Redo" keys="Ctrl + Y" disabled={!canRedo(draft.work)} onClick={actions.redo}>
        <Redo2 size={16} aria-hidden />
      </IconButton>
      <IconButton label="Help and keys" keys="?" onClick={actions.help}>
        <CircleHelp size={16} aria-hidden />
      </IconButton>
      <HandIn bench={bench} draft={draft} />
    </>
  );
}

type BriefProps = {
  bench: Bench;
  objects: readonly SceneObject[];
  onChoose: (ids: readonly string[]) => void;
};

const BriefAndObjects = memo(function BriefAndObjects({ bench, objects, onChoose }: BriefProps) {
  const chosen = useBench((state) => state.sentence.objects);
  return (
    <TabCard
      label="Brief and objects"
      className="min-h-0 flex-1 cramped:max-h-80"
      tabs={[
        {
          name: "Brief",
          body: (
            <>
              <div className="brief">
                <Markdown>{bench.exercise.brief}</Markdown>
              </div>
              <p className="text-sm text-ink-soft">Due {dateTime(bench.due_at)}</p>
            </>
          ),
        },
        { name: "Objects", body: <ObjectList objects={objects} chosen={chosen} onChoose={onChoose} /> },
      ]}
    />
  );
});

type CardProps = {
  bench: Bench;
  state: SceneState;
  setting: Setting;
  item: SceneObject | undefined;
  onChoose: (ids: readonly string[]) => void;
  onSteps: (steps: readonly Step[]) => void;
};

function GapsAndNumbers({ bench, state, setting, item, onChoose, onSteps }: CardProps) {
  const { exercise } = bench;
  const numbers = (
    <NumbersCard
      item={item}
      reading={item && state.readings[item.id]}
      world_from_local={item && setting.poses[item.id]?.world_from_local}
      conventions={exercise.conventions}
      onSteps={onSteps}
    />
  );
  const gaps = exercise.gaps_shown ? (
    <GapCard gaps={state.gaps} chosen={item?.id ?? null} onChoose={(id) => onChoose([id])} />
  ) : (
    <p className="text-ink-soft">In this exercise you see what is missing when you have handed in.</p>
  );
  return (
    <TabCard
      label="Gaps and numbers"
      className="max-h-[55%] min-h-40 shrink-0 cramped:max-h-80"
      tabs={[
        { name: "Gap", body: gaps },
        { name: "Numbers", body: numbers },
      ]}
    />
  );
}

type ViewProps = {
  bench: Bench;
  setting: Setting;
  shapes: ReadonlyMap<string, Shape>;
  gaps: SceneState["gaps"];
  fixed: boolean;
  onChoose: (ids: readonly string[]) => void;
  onStep: (step: Step) => void;
};

function BenchView({ bench, setting, shapes, gaps, fixed, onChoose, onStep }: ViewProps) {
  const { exercise } = bench;
  const { sentence, fit, main, flat, shading, framing, picking, set } = useBenchParts(
    "sentence",
    "fit",
    "main",
    "flat",
    "shading",
    "framing",
    "picking",
    "set",
  );
  const framer = useRef<Framer | null>(null);
  const poses = useShownPoses(setting);
  const chosen = sentence.objects;
  const passing = useMemo(() => passingIds(gaps), [gaps]);
  const lit = useMemo(
    () => new Set(exercise.halos.filter((halo) => chosen.includes(halo.object)).map((halo) => halo.check)),
    [exercise, chosen],
  );
  const items = setting.objects.filter((item) => chosen.includes(item.id));
  const choose = useCallback(
    (id: string | null, choice: Choice) => {
      const { sentence: now, picking: point } = useBench.getState();
      if (id === null) return point ? undefined : onChoose([]);
      if (choice === "alone") return onChoose([id]);
      const others = now.objects.filter((other) => other !== id);
      onChoose(others.length < now.objects.length ? others : [...others, id]);
    },
    [onChoose],
  );
  const turned = useCallback((directions: Directions) => set({ directions }), [set]);
  const handles = !fixed && !framing && !picking && items.length > 0 && items.every((item) => !item.locked);
  return (
    <>
      <SceneView
        exercise={exercise}
        objects={setting.objects}
        poses={poses}
        shapes={shapes}
        chosen={chosen}
        onChoose={choose}
        passing={passing}
        lit={lit}
        fit={fit}
        main={main}
        flat={flat}
        shading={shading}
        onTurned={turned}
        label={`The scene: ${setting.objects.length} objects, ${items.length > 0 ? `${listed(items.map((item) => item.name))} chosen` : "none chosen"}`}
      >
        {handles && <Handles setting={setting} onStep={onStep} />}
        {picking && <PointDots setting={setting} />}
        <MarkerSign at={setting.marker} always={sentence.pivot === "marker"} />
        <FramePicker framer={framer} />
      </SceneView>
      {framing && <FrameOverlay framer={framer} />}
    </>
  );
}
