// A scene, a list of steps that changes it, and all that can be done with both. It knows no assignment and no server.
import { CircleHelp } from "lucide-react";
import { type ReactNode, type RefObject, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { DraftSteps, Exercise, Said, SceneObject, SceneState, Step } from "../api/types";
import type { MoreOp, Op, Reading } from "../state/sentence";
import { changeSentence, markDone, resetBench, setBench, useBench, useBenchParts } from "../state/store";
import { nudgeSentence, readSentence, withKind } from "../steps/axisSentence";
import type { Context } from "../steps/kind";
import { AXIS_OPS, begun, isMore, MORE_OPS, madeOf } from "../steps/registry";
import { type Setting, topmost } from "../steps/setting";
import { firstSizes } from "../steps/sizes";
import { inView } from "../steps/spaces";
import { nth } from "../ui/lists";
import { IconButton } from "../ui/parts";
import { HeadTools } from "../ui/Shell";
import type { Tab } from "../ui/TabCard";
import type { Directions } from "../view3d/camera";
import { useShapes } from "../view3d/context";
import { Announcer } from "./Announcer";
import { usePlumb } from "./DepthSigns";
import {
  boxesOf,
  type Choices,
  canRedo,
  canUndo,
  type Entry,
  listOf,
  settingAfter,
  type Work,
} from "./draft";
import { ElevationStrip } from "./ElevationStrip";
import { HelpDialog } from "./HelpDialog";
import type { AskLines, AskText } from "./ListText";
import type { AskMeasures } from "./MeasureCard";
import type { Props as ObjectListProps } from "./ObjectList";
import { SentenceBar } from "./SentenceBar";
import { StepList } from "./StepList";
import { UndoTools } from "./UndoTools";
import { type KeyActions, useBenchKeys } from "./useBenchKeys";
import { type AskLook, useLook } from "./useLook";
import { type AskPreview, usePreview } from "./usePreview";
import { ViewTools } from "./ViewTools";
import { WorkbenchView } from "./WorkbenchView";
import { AboutAndObjects, GapsAndNumbers } from "./WorkCards";

/** The work and every way to change it; refusal: why the last change was not taken; look: what the core says of a list. */
export type WorkControl = {
  work: Work;
  setting: Setting;
  refusal: string | null;
  add: (step: Step) => void;
  edit: (entries: readonly Entry[]) => void;
  /** Other choices by hand of what was added for what. */
  match: (matches: Choices) => void;
  undo: () => void;
  redo: () => void;
  look: AskLook;
  preview: AskPreview;
  /** What the core reads in a line of text, after the work as it stands. */
  say: (line: string, view: Directions, list: DraftSteps, signal?: AbortSignal) => Promise<Said>;
  measures: AskMeasures;
  /** The work as text, and a text as steps. */
  text: AskText;
  lines: AskLines;
};

type Props = {
  exercise: Exercise;
  control: WorkControl;
  /** The cards beside the objects: what it is about. */
  about: readonly Tab[];
  /** The card about what is chosen, in the place of what is still missing. */
  beside?: ((item: SceneObject | undefined, control: WorkControl) => Tab) | undefined;
  /** What stands in the head before and after the workbench's own tools. */
  state: ReactNode;
  finish: ReactNode;
  /** What Ctrl and Enter asks for. */
  onFinish: () => void;
};

export function Workbench({ exercise, control, about, beside, state: saved, finish, onFinish }: Props) {
  const { conventions } = exercise;
  const { work } = control;
  const state = useLook(control.look, work);
  const { looking, lookOnly } = useBenchParts("looking", "lookOnly");
  const setting = useShownSetting(exercise, control, state, looking);
  const [helping, setHelping] = useState(false);
  const fields = useRef<(HTMLInputElement | null)[]>([]);
  const choose = useCallback((objects: readonly string[]) => {
    const { sentence } = useBench.getState();
    changeSentence({ ...sentence, objects, point: null });
  }, []);
  const add = useAllowed(control.add);
  const reading = useReading(exercise, control, setting, state);
  const say = useSay(control);
  const doings = useActions({ exercise, control, setting, state, reading, fields, add });
  const actions = {
    ...doings,
    commit: useAsSoonAsTold(reading, doings.commit, add),
    choose,
    help: () => setHelping(true),
    finish: onFinish,
  };
  useBenchKeys(actions);
  useFreshView(exercise);
  useChoiceThatStands(control.setting.objects);
  // biome-ignore lint/correctness/useExhaustiveDependencies: after any change of the work, the work is what is shown
  useEffect(() => setBench({ looking: null }), [work.entries]);
  const nest = useNesting(exercise, setting.objects);
  const plumb = usePlumb(setting, state, conventions);
  const item = useChosenItem(setting);
  const shapes = useShapes(setting.objects, conventions.up);
  return (
    <>
      <HeadTools>
        {saved}
        <WorkTools work={work} actions={actions} />
        {finish}
      </HeadTools>
      <div className="grid min-h-0 flex-1 grid-cols-[15rem_minmax(0,1fr)_19rem] grid-rows-[minmax(0,1fr)_auto] cramped:flex cramped:flex-col cramped:overflow-y-auto">
        <div className="flex min-h-0 flex-col border-r border-hairline bg-sheet cramped:order-4 cramped:shrink-0 cramped:border-r-0">
          <AboutAndObjects about={about} objects={setting.objects} onChoose={choose} onNest={nest} />
          <ElevationStrip
            exercise={exercise}
            setting={setting}
            shapes={shapes}
            gaps={state.gaps}
            plumb={plumb}
          />
        </div>
        <main className="@container relative min-h-0 min-w-0 cramped:order-1 cramped:h-[max(14rem,60vh)] cramped:shrink-0">
          <WorkbenchView
            exercise={exercise}
            setting={setting}
            shapes={shapes}
            gaps={state.gaps}
            plumb={plumb}
            fixed={lookOnly || looking !== null}
            onChoose={choose}
            onStep={add}
          />
          <ViewTools views={exercise.views} />
        </main>
        <div className="flex min-h-0 flex-col border-l border-hairline bg-sheet cramped:order-3 cramped:shrink-0 cramped:border-t cramped:border-l-0">
          <GapsAndNumbers
            exercise={exercise}
            state={state}
            setting={setting}
            item={item}
            beside={beside?.(item, control)}
            work={work}
            measures={control.measures}
            onMatch={control.match}
            onChoose={choose}
            onSteps={(steps) => steps.forEach(add)}
          />
          <StepList
            work={work}
            objects={control.setting.objects}
            conventions={conventions}
            onEdit={control.edit}
            onText={control.text}
            onLines={control.lines}
          />
        </div>
        <SentenceBar
          conventions={conventions}
          objects={setting.objects}
          readings={state.readings}
          reading={reading}
          refusal={control.refusal}
          fields={fields}
          onCommit={actions.commit}
          onNudge={actions.nudge}
          onBegin={actions.begin}
          onChoose={choose}
          kinds={exercise.kinds}
          onSay={say}
          onStep={add}
        />
      </div>
      <Announcer exercise={exercise} work={work} />
      <HelpDialog open={helping} onClose={() => setHelping(false)} />
    </>
  );
}

/** The scene that is shown: as the work stands, or after an earlier step. */
function useShownSetting(
  exercise: Exercise,
  control: WorkControl,
  state: SceneState,
  looking: number | null,
): Setting {
  const { entries } = control.work;
  return useMemo(
    () => (looking === null ? control.setting : settingAfter(exercise, entries, looking, boxesOf(state))),
    [exercise, control.setting, entries, looking, state],
  );
}

/** What the sentence says just now, as a step or as what it still lacks. */
function useReading(exercise: Exercise, control: WorkControl, setting: Setting, state: SceneState): Reading {
  const { sentence, directions, more, said, asText } = useBenchParts(
    "sentence",
    "directions",
    "more",
    "said",
    "asText",
  );
  const { conventions } = exercise;
  const made = useMemo(() => {
    if (asText && said) return said;
    const made = more && madeOf(more, contextOf(setting, sentence.objects));
    return made && typeof made === "object" ? inView(made, directions) : made;
  }, [asText, said, more, setting, sentence.objects, directions]);
  const previewed = usePreview(control.preview, control.work, made);
  return previewed ?? readSentence(sentence, setting.objects, conventions, directions, state.readings);
}

function useSay({ say, work }: WorkControl) {
  const { entries, cursor } = work;
  return useCallback(
    (line: string, signal?: AbortSignal) => {
      const body = { ...listOf(entries.slice(0, cursor)), cursor };
      return say(line, useBench.getState().directions, body, signal);
    },
    [say, entries, cursor],
  );
}

function useChosenItem(setting: Setting): SceneObject | undefined {
  const primary = useBench((view) => view.sentence.objects.at(-1));
  return setting.objects.find((item) => item.id === primary);
}

/** A workbench begins with sizes that fit its units and a kind of step that it offers; what was before is forgotten. */
function useFreshView({ conventions, kinds, objects, views }: Exercise): void {
  // biome-ignore lint/correctness/useExhaustiveDependencies: when it is laid out, not when what is given changes on it
  useEffect(() => {
    setBench({ sizes: firstSizes(conventions), main: nth(views, 0) });
    const first = [...AXIS_OPS, ...MORE_OPS].find((op) => kinds.includes(op));
    if (first) beginSentence(first, objects, conventions);
    return resetBench;
  }, []);
}

/** What a step brought alone is chosen, since the next step is most often for it; once it is gone, what was before. */
function useChoiceThatStands(objects: readonly SceneObject[]): void {
  const known = useRef(objects);
  const replaced = useRef<readonly string[]>([]);
  useEffect(() => {
    const { sentence } = useBench.getState();
    const standing = (ids: readonly string[]) => ids.filter((id) => objects.some((item) => item.id === id));
    const before = new Set(known.current.map((item) => item.id));
    const came = topmost(
      objects.map((item) => item.id).filter((id) => !before.has(id)),
      objects,
    );
    known.current = objects;
    const kept = standing(sentence.objects);
    const alone = came.length === 1;
    const gone = kept.length === 0 && sentence.objects.length > 0;
    const chosen = alone ? came : gone ? standing(replaced.current) : kept;
    if (alone) replaced.current = sentence.objects;
    if (chosen.join() !== sentence.objects.join())
      setBench({ sentence: { ...sentence, objects: chosen, point: null } });
  }, [objects]);
}

function turnNow(): number | undefined {
  return useBench.getState().more?.turn;
}

/** Enter just after the last letter counts: it is done as soon as the core has told what the step would do, and where
 * another sentence is begun before that, at once; what the core refuses is removed again. */
function useAsSoonAsTold(reading: Reading, commit: () => void, add: (step: Step) => void): () => void {
  const wanted = useRef<{ turn: number | undefined; step: Step } | null>(null); // the sentence that is to be done
  useEffect(() => {
    if (!wanted.current) return;
    const { turn, step } = wanted.current;
    const same = turn === turnNow();
    if (same && reading.kind === "asked") return;
    wanted.current = null;
    if (same) commit();
    else add(step);
  }, [reading, commit, add]);
  return () => {
    wanted.current = reading.kind === "asked" ? { turn: turnNow(), step: reading.step } : null;
    commit();
  };
}

/** Adds a step, unless the scene is only looked at; then it says so. */
function useAllowed(add: (step: Step) => void): (step: Step) => void {
  return useCallback(
    (step: Step) => {
      const { lookOnly, looking } = useBench.getState();
      if (lookOnly)
        return setBench({ warning: "Look only is on, so nothing can be moved. Switch it off to continue." });
      if (looking !== null)
        return setBench({ warning: "You are viewing an earlier step. Go to the latest step first." });
      add(step);
    },
    [add],
  );
}

/** What is dragged in the list becomes a sentence: what it will change is seen before it is done. */
function useNesting({ kinds, conventions }: Exercise, objects: readonly SceneObject[]): NestAsked {
  const offered = kinds.includes("nest");
  return useMemo(() => {
    if (!offered) return null;
    return (ids, parent) => {
      const { sentence } = useBench.getState();
      changeSentence({ ...sentence, objects: ids, point: null });
      const nest = begun("nest", { objects, chosen: ids, conventions });
      setBench({ more: { ...nest, values: { ...nest.values, parent } as typeof nest.values } });
    };
  }, [offered, objects, conventions]);
}

function contextOf(setting: Setting, chosen: readonly string[]): Context {
  return { objects: setting.objects, chosen, conventions: setting.conventions, ground: setting };
}

/** The sentence of another kind of step, for what is chosen. */
function beginSentence(op: Op, objects: readonly SceneObject[], conventions: Exercise["conventions"]): void {
  const { sentence } = useBench.getState();
  const context = { objects, chosen: sentence.objects, conventions };
  setBench({ more: isMore(op) ? begun(op, context) : null, quiet: false });
  if (!isMore(op)) changeSentence(withKind(sentence, op));
}

type NestAsked = ObjectListProps["onNest"];

type ActionParts = {
  exercise: Exercise;
  control: WorkControl;
  setting: Setting;
  state: SceneState;
  reading: Reading;
  fields: RefObject<(HTMLInputElement | null)[]>;
  add: (step: Step) => void;
};

/** What the keys and buttons do with the work and the sentence. */
function useActions({ exercise, control, setting, state, reading, fields, add }: ActionParts) {
  return {
    objects: setting.objects,
    fields,
    commit: () => {
      if (reading.kind !== "ready") return;
      add(reading.step);
      const { more, recent, last } = useBench.getState();
      markDone();
      setBench({ quiet: true });
      if (more) setBench({ last: { ...last, [more.op]: more.values } });
      if (more && !recent.includes(more.op)) setBench({ recent: [more.op, ...recent].slice(0, 3) });
      fields.current.find((field) => field === document.activeElement)?.select(); // the next number takes its place
    },
    nudge: (way: 1 | -1) => {
      const view = useBench.getState();
      const { conventions } = exercise;
      const nudged = nudgeSentence(view, way);
      const asked = readSentence(nudged, setting.objects, conventions, view.directions, state.readings);
      if (asked.kind === "ready") add({ ...asked.step, entry: "nudged" });
      else setBench({ warning: asked.why });
    },
    begin: (op: Op) => {
      if (exercise.kinds.includes(op)) beginSentence(op, setting.objects, exercise.conventions);
    },
    atOnce: (op: MoreOp) => {
      if (!exercise.kinds.includes(op)) return;
      const { sentence, last } = useBench.getState();
      const context = contextOf(setting, sentence.objects);
      const made = madeOf({ ...begun(op, context), ...(last[op] && { values: last[op] }) }, context);
      if (typeof made === "object") add(made);
      else setBench({ warning: made });
    },
    undo: control.undo,
    redo: control.redo,
    lookBy: (way: 1 | -1) => {
      const { looking } = useBench.getState();
      const { cursor } = control.work;
      const next = Math.max(0, Math.min((looking ?? cursor) + way, cursor));
      setBench({ looking: next === cursor ? null : next });
    },
  };
}

function WorkTools({ work, actions }: { work: Work; actions: KeyActions }) {
  return (
    <>
      <UndoTools
        canUndo={canUndo(work)}
        canRedo={canRedo(work)}
        onUndo={actions.undo}
        onRedo={actions.redo}
      />
      <IconButton label="Help and keys" keys="?" onClick={actions.help}>
        <CircleHelp size={16} aria-hidden />
      </IconButton>
    </>
  );
}
