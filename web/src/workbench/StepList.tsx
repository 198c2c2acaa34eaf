// The step list: each step its sentence; looked at, played, edited in place, switched off, moved, repeated, deleted.
import { Pause, Pencil, Play } from "lucide-react";
import { memo, type ReactNode, type RefObject, useEffect, useEffectEvent, useRef, useState } from "react";
import type { Exercise, SceneObject } from "../api/types";
import { setBench, useBenchParts } from "../state/store";
import { nth } from "../ui/lists";
import { Heading, IconButton } from "../ui/parts";
import type { Entry, Work } from "./draft";
import { type AskLines, type AskText, ListText } from "./ListText";
import { StepEditor } from "./StepEditor";
import { StepTools } from "./StepTools";
import { TrialTools, useTrial } from "./Trial";

const PLAY_MS = 900;

type Props = {
  work: Work;
  /** What there is to choose from while a step is edited. */
  objects: readonly SceneObject[];
  conventions: Exercise["conventions"];
  onEdit: (entries: readonly Entry[]) => void;
  onText: AskText;
  onLines: AskLines;
};

/** Only another list draws it anew: a drag does not. */
export const StepList = memo(function StepList(props: Props) {
  const { work, onEdit } = props;
  const { entries, cursor, refused } = work;
  const { looking } = useBenchParts("looking");
  const [editing, setEditing] = useState<number | null>(null);
  const rows = useRef<HTMLOListElement>(null);
  const follow = useFollow(rows);
  const shown = looking ?? cursor;
  const trial = useTrial(work);
  const replace = (place: number, put: readonly Entry[]) => {
    setEditing(null);
    follow(place, "Edit step");
    setBench({ looking: null });
    onEdit([...entries.slice(0, place), ...put, ...entries.slice(place + 1, cursor)]);
  };
  const swap = (place: number, other: number) => {
    const list = entries.slice(0, cursor);
    [list[place], list[other]] = [nth(list, other), nth(list, place)];
    onEdit(list);
    setEditing(other); // the editor goes with its step, and so does the focus
    follow(other, `Move step ${other + 1} ${other < place ? "up" : "down"}`);
  };
  return (
    <section
      aria-label="Steps"
      className="flex min-h-0 flex-1 flex-col border-t border-hairline px-4 pt-2 pb-3 cramped:min-h-40"
    >
      <div className="flex items-center">
        <Heading>Steps</Heading>
        <span className="ml-auto flex">
          <TrialTools work={work} onEdit={onEdit} />
          <ListText
            entries={entries.slice(0, cursor)}
            ask={props.onText}
            read={props.onLines}
            onTake={onEdit}
          />
          {cursor > 0 && <Player cursor={cursor} />}
        </span>
      </div>
      {entries.length === 0 && (
        <p className="text-ink-soft">No steps yet. Each step appears here as a sentence.</p>
      )}
      <ol ref={rows} className="min-h-0 flex-1 overflow-y-auto" aria-label="Steps done">
        {entries.map((entry, i) => (
          <StepRow
            key={i}
            entry={entry}
            place={i}
            current={i === shown - 1}
            counts={i < cursor}
            tried={trial !== null && i >= trial}
            refusal={refused?.step === i + 1 ? refused.text : null}
            words={entry.sentence ?? (refused && i >= refused.step - 1 ? plain(entry) : "Saving…")}
            onLook={() => setBench({ looking: i + 1 === cursor ? null : i + 1 })}
            onEdit={() => setEditing(editing === i ? null : i)}
          >
            {editing === i && i < cursor && (
              <div className="mt-1 mb-2 ml-7 rounded-md border border-hairline bg-paper p-2">
                <StepEditor
                  key={JSON.stringify(entry.step)}
                  step={entry.step}
                  objects={props.objects}
                  conventions={props.conventions}
                  onChange={(step) => replace(i, [{ ...entry, step }])}
                />
                <StepTools
                  entry={entry}
                  place={i}
                  last={cursor - 1}
                  onReplace={(put) => replace(i, put)}
                  onSwap={(other) => swap(i, other)}
                />
              </div>
            )}
          </StepRow>
        ))}
      </ol>
    </section>
  );
});

/** Puts the focus, after an edit has been drawn, on a button of the row that the step has come to. */
function useFollow(rows: RefObject<HTMLOListElement | null>): (place: number, button: string) => void {
  const [to, setTo] = useState<{ place: number; button: string } | null>(null);
  useEffect(() => {
    if (!to) return;
    const place = Math.min(to.place, (rows.current?.children.length ?? 0) - 1);
    const row = rows.current?.children[place];
    const buttons = [to.button, "Edit step"].map((words) =>
      row?.querySelector<HTMLButtonElement>(`button[aria-label^="${words}"]:enabled`),
    );
    buttons.find(Boolean)?.focus();
    setTo(null);
  }, [to, rows]);
  return (place, button) => setTo({ place, button });
}

/** Plays the steps from the start, and leads back to the newest. */
function Player({ cursor }: { cursor: number }) {
  const { looking } = useBenchParts("looking");
  const [playing, setPlaying] = useState(false);
  const next = useEffectEvent(() => {
    const next = (looking ?? cursor) + 1;
    setBench({ looking: next >= cursor ? null : next });
    if (next >= cursor) setPlaying(false);
  });
  useEffect(() => {
    if (!playing) return;
    const timer = window.setInterval(next, PLAY_MS);
    return () => window.clearInterval(timer);
  }, [playing]);
  const play = () => {
    if (!playing) setBench({ looking: 0 });
    setPlaying(!playing);
  };
  return (
    <span className="ml-auto flex items-center">
      {looking !== null && (
        <button
          type="button"
          onClick={() => setBench({ looking: null })}
          className="rounded-sm px-1.5 text-sm text-plum underline hover:bg-well"
        >
          Go to the latest step
        </button>
      )}
      <IconButton label={playing ? "Stop playing" : "Play the steps"} onClick={play}>
        {playing ? <Pause size={14} aria-hidden /> : <Play size={14} aria-hidden />}
      </IconButton>
    </span>
  );
}

type RowProps = {
  entry: Entry;
  place: number;
  /** Whether the scene stands as it was after this step. */
  current: boolean;
  /** Whether it was not undone. */
  counts: boolean;
  /** Whether it is only tried. */
  tried: boolean;
  refusal: string | null;
  words: string;
  onLook: () => void;
  onEdit: () => void;
  children: ReactNode;
};

function StepRow(props: RowProps) {
  const { entry, place, current, counts, tried, refusal, words, onLook, onEdit, children } = props;
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (current) row.current?.scrollIntoView({ block: "nearest" });
  }, [current]);
  return (
    <li
      ref={row}
      aria-current={current ? "step" : undefined}
      className={`group border-l-2 py-0.5 pl-1 ${current ? "border-plum" : "border-transparent"} ${tried ? "rounded-r-md border-r-2 border-r-near border-dashed" : ""}`}
    >
      <div className="flex gap-1.5">
        <button
          type="button"
          disabled={!counts}
          title="See the scene after this step"
          onClick={onLook}
          className={`flex min-w-0 flex-1 gap-2 rounded-sm text-left hover:bg-well ${counts && entry.on ? "" : "text-ink-soft line-through"}`}
        >
          <span className="w-5 shrink-0 text-right font-mono text-ink-soft">{place + 1}</span>
          <span>
            {words}
            {tried && <span className="sr-only"> (on trial)</span>}
          </span>
        </button>
        {counts && (
          <IconButton label={`Edit step ${place + 1}`} onClick={onEdit}>
            <Pencil size={13} aria-hidden />
          </IconButton>
        )}
      </div>
      {refusal && <p className="pl-7 text-sm font-semibold text-fail">✕ {refusal}</p>}
      {entry.skewed.length > 0 && entry.on && (
        <p className="pl-7 text-sm text-near">≈ Skewed: its axes are no longer at right angles.</p>
      )}
      {children}
    </li>
  );
}

function plain({ step }: Entry): string {
  return `${nth(step.op, 0).toUpperCase()}${step.op.slice(1)} ${"objects" in step ? step.objects.join(", ") : ""}`;
}
