// The step list: each step its sentence; looked at, played, edited in place, switched off, moved, repeated, deleted.
import { ArrowDown, ArrowUp, Copy, Eye, EyeOff, Pause, Pencil, Play, Trash2 } from "lucide-react";
import { memo, useEffect, useRef, useState } from "react";
import { Heading, IconButton } from "../ui/parts";
import type { Entry, Work } from "./draft";
import { StepEditor } from "./StepEditor";
import { useBench } from "./store";

const PLAY_MS = 900;

type Props = { work: Work; onEdit: (entries: readonly Entry[]) => void };

/** Only another list draws it anew: a drag does not. */
export const StepList = memo(function StepList({ work, onEdit }: Props) {
  const { entries, cursor, refused } = work;
  const looking = useBench((state) => state.looking);
  const set = useBench((state) => state.set);
  const [editing, setEditing] = useState<number | null>(null);
  const [playing, setPlaying] = useState(false);
  /** The step that the focus goes to after an edit, and its button. */
  const [follow, setFollow] = useState<{ place: number; button: string } | null>(null);
  const rows = useRef<HTMLOListElement>(null);
  useEffect(() => {
    if (!follow) return;
    const place = Math.min(follow.place, (rows.current?.children.length ?? 0) - 1);
    const row = rows.current?.children[place];
    const buttons = [follow.button, "Edit step"].map((words) =>
      row?.querySelector<HTMLButtonElement>(`button[aria-label^="${words}"]:enabled`),
    );
    buttons.find(Boolean)?.focus();
    setFollow(null);
  }, [follow]);
  const current = useRef<HTMLLIElement>(null);
  const shown = looking ?? cursor;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the step in hand comes into sight whenever it changes
  useEffect(() => {
    current.current?.scrollIntoView({ block: "nearest" });
  }, [shown]);
  useEffect(() => {
    if (!playing) return;
    const timer = window.setTimeout(() => {
      const next = (useBench.getState().looking ?? cursor) + 1;
      set({ looking: next >= cursor ? null : next });
      if (next >= cursor) setPlaying(false);
    }, PLAY_MS);
    return () => window.clearTimeout(timer);
  });
  const play = () => {
    if (!playing) set({ looking: 0 });
    setPlaying(!playing);
  };
  const replace = (place: number, put: readonly Entry[]) => {
    setEditing(null);
    setFollow({ place, button: "Edit step" });
    set({ looking: null });
    onEdit([...entries.slice(0, place), ...put, ...entries.slice(place + 1, cursor)]);
  };
  const swap = (place: number, other: number) => {
    const list = entries.slice(0, cursor);
    [list[place], list[other]] = [list[other]!, list[place]!];
    onEdit(list);
    setEditing(other); // the editor goes with its step, and so does the focus
    const way = other < place ? "up" : "down";
    setFollow({ place: other, button: `Move step ${other + 1} ${way}` });
  };
  return (
    <section
      aria-label="Steps"
      className="flex min-h-0 flex-1 flex-col border-t border-hairline px-4 pt-2 pb-3 cramped:min-h-40"
    >
      <div className="flex items-center">
        <Heading>Steps</Heading>
        {cursor > 0 && (
          <span className="ml-auto flex items-center">
            {looking !== null && (
              <button
                type="button"
                onClick={() => set({ looking: null })}
                className="rounded-sm px-1.5 text-sm text-plum underline hover:bg-well"
              >
                Back to the newest
              </button>
            )}
            <IconButton label={playing ? "Stop playing" : "Play the steps"} onClick={play}>
              {playing ? <Pause size={14} aria-hidden /> : <Play size={14} aria-hidden />}
            </IconButton>
          </span>
        )}
      </div>
      {entries.length === 0 && (
        <p className="text-ink-soft">No step yet. What you do stands here, one sentence each.</p>
      )}
      <ol ref={rows} className="min-h-0 flex-1 overflow-y-auto" aria-label="Steps done">
        {entries.map((entry, i) => (
          <li
            key={i}
            ref={i === shown - 1 ? current : null}
            aria-current={i === shown - 1 ? "step" : undefined}
            className={`group border-l-2 py-0.5 pl-1 ${i === shown - 1 ? "border-plum" : "border-transparent"}`}
          >
            <div className="flex gap-1.5">
              <button
                type="button"
                disabled={i >= cursor}
                title="See the scene after this step"
                onClick={() => set({ looking: i + 1 === cursor ? null : i + 1 })}
                className={`flex min-w-0 flex-1 gap-2 rounded-sm text-left hover:bg-well ${i >= cursor || !entry.on ? "text-ink-soft line-through" : ""}`}
              >
                <span className="w-5 shrink-0 text-right font-mono text-ink-soft">{i + 1}</span>
                <span>
                  {entry.sentence ??
                    (refused && i >= refused.step - 1 ? plain(entry) : "On its way to the server…")}
                </span>
              </button>
              {i < cursor && (
                <IconButton label={`Edit step ${i + 1}`} onClick={() => setEditing(editing === i ? null : i)}>
                  <Pencil size={13} aria-hidden />
                </IconButton>
              )}
            </div>
            {refused?.step === i + 1 && (
              <p className="pl-7 text-sm font-semibold text-fail">✕ {refused.text}</p>
            )}
            {entry.skewed.length > 0 && entry.on && (
              <p className="pl-7 text-sm text-near">≈ This left it skewed: its axes are no longer square.</p>
            )}
            {editing === i && i < cursor && (
              <div className="mt-1 mb-2 ml-7 rounded-md border border-hairline bg-paper p-2">
                <StepEditor
                  key={JSON.stringify(entry.step)}
                  step={entry.step}
                  onChange={(step) => replace(i, [{ ...entry, step }])}
                />
                <div className="flex flex-wrap">
                  <IconButton
                    label={entry.on ? `Switch step ${i + 1} off` : `Switch step ${i + 1} on`}
                    onClick={() => replace(i, [{ ...entry, on: !entry.on }])}
                  >
                    {entry.on ? <EyeOff size={14} aria-hidden /> : <Eye size={14} aria-hidden />}
                  </IconButton>
                  <IconButton
                    label={`Move step ${i + 1} up`}
                    disabled={i === 0}
                    onClick={() => swap(i, i - 1)}
                  >
                    <ArrowUp size={14} aria-hidden />
                  </IconButton>
                  <IconButton
                    label={`Move step ${i + 1} down`}
                    disabled={i + 1 >= cursor}
                    onClick={() => swap(i, i + 1)}
                  >
                    <ArrowDown size={14} aria-hidden />
                  </IconButton>
                  <Repeat
                    onRepeat={(times) =>
                      replace(
                        i,
                        Array.from({ length: times + 1 }, () => ({ ...entry })),
                      )
                    }
                  />
                  <IconButton label={`Delete step ${i + 1}`} onClick={() => replace(i, [])}>
                    <Trash2 size={14} aria-hidden />
                  </IconButton>
                </div>
              </div>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
});

function plain({ step }: Entry): string {
  return `${step.op[0]!.toUpperCase()}${step.op.slice(1)} ${"objects" in step ? step.objects.join(", ") : ""}`;
}

const MOST_TIMES = 50;

function Repeat({ onRepeat }: { onRepeat: (times: number) => void }) {
  const [text, setText] = useState("1");
  const times = /^\d{1,2}$/.test(text) ? Number(text) : 0;
  const sound = times >= 1 && times <= MOST_TIMES;
  return (
    <span className="flex items-center">
      <input
        inputMode="numeric"
        aria-label={`Times more, 1 to ${MOST_TIMES}`}
        aria-invalid={!sound}
        value={text}
        onChange={(event) => setText(event.target.value.trim())}
        className="h-7 w-12 rounded-md border border-edge bg-sheet px-1 text-right font-mono aria-invalid:border-fail"
      />
      <IconButton label="Do it so many times more" disabled={!sound} onClick={() => onRepeat(times)}>
        <Copy size={14} aria-hidden />
      </IconButton>
    </span>
  );
}
