// What changed, for who hears the screen: the step that was done, what undo took back, what a switch key changed.
import { useEffect, useRef, useState } from "react";
import type { CheckResult, Exercise } from "../api/types";
import type { Sentence } from "../state/sentence";
import { useBench } from "../state/store";
import { axisKindOf } from "../steps/axisKinds";
import { spaceWords } from "../steps/spaces";
import { counted } from "../ui/numbers";
import { AXIS_NAMES } from "../view3d/matrices";
import type { Work } from "./draft";

export function Announcer({ exercise, work }: { exercise: Exercise; work: Work }) {
  const sentence = useBench((state) => state.sentence);
  const [text, setText] = useState("");
  const before = useRef({ work, sentence });
  useEffect(() => {
    const { work: then, sentence: said } = before.current;
    const news = workNews(then, work, exercise.gaps_shown) ?? switchNews(said, sentence, exercise.objects);
    if (news === null) return;
    before.current = { work, sentence };
    setText(news);
  }, [exercise, work, sentence]);
  return (
    <p role="status" aria-label="What changed" className="sr-only">
      {text}
    </p>
  );
}

/** What became of the work, once the core has answered; `null` where nothing did that is to be said. */
export function workNews(before: Work, after: Work, gapsShown: boolean): string | null {
  if (after.dirty || (before.entries === after.entries && before.cursor === after.cursor)) return null;
  const gaps = gapsShown ? ` ${standing(after.state.gaps)}` : "";
  const words = (work: Work, i: number) => work.entries[i]?.sentence ?? "a step";
  if (after.cursor < before.cursor) return `Undone: ${words(before, after.cursor)}.${gaps}`;
  if (after.cursor > before.cursor && before.entries.length >= after.entries.length)
    return `Redone: ${words(after, after.cursor - 1)}.${gaps}`;
  if (after.cursor > before.cursor) return `Done: ${words(after, after.cursor - 1)}.${gaps}`;
  return `The steps changed; there are now ${after.cursor}.${gaps}`;
}

function standing(gaps: readonly CheckResult[]): string {
  const passed = gaps.filter((gap) => gap.verdict === "pass").length;
  return `${passed} of ${counted(gaps.length, "check")} in place.`;
}

/** What a chip or a key switched in the sentence; `null` where nothing was. */
export function switchNews(before: Sentence, after: Sentence, objects: Exercise["objects"]): string | null {
  const news: string[] = [];
  if (before.op !== after.op) news.push(axisKindOf(after.op).name);
  if (before.mode !== after.mode) news.push(after.mode === "by" ? "By" : "To");
  if (before.axes.join() !== after.axes.join() || before.lit !== after.lit)
    news.push(`Axis ${AXIS_NAMES.filter((_, i) => after.axes[i]).join(" and ")}`);
  if (before.space !== after.space) news.push(`of ${spaceWords(after.space, objects)}`);
  if (before.objects.join() !== after.objects.join()) {
    const names = after.objects.map((id) => objects.find((item) => item.id === id)?.name ?? id);
    news.push(names.length === 0 ? "Nothing selected" : `${names.join(", ")} chosen`);
  }
  return news.length === 0 ? null : `${news.join(", ")}.`;
}
