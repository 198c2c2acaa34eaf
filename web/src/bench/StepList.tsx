// The step list: each step its sentence, undone ones dimmed.
import { useEffect, useRef } from "react";
import { Heading } from "../ui/parts";
import type { DraftControl } from "./useDraft";

export function StepList({ draft }: { draft: DraftControl }) {
  const { entries, cursor } = draft.work;
  const current = useRef<HTMLLIElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the newest step comes into sight whenever the cursor moves
  useEffect(() => {
    current.current?.scrollIntoView({ block: "nearest" });
  }, [cursor]);
  return (
    <section aria-label="Steps" className="flex min-h-0 flex-1 flex-col border-t border-hairline p-4">
      <Heading>Steps</Heading>
      {entries.length === 0 && (
        <p className="text-ink-soft">No step yet. What you do stands here, one sentence each.</p>
      )}
      <ol className="min-h-0 flex-1 overflow-y-auto" aria-label="Steps done">
        {entries.map((entry, i) => (
          <li
            key={i}
            ref={i === cursor - 1 ? current : null}
            aria-current={i === cursor - 1 ? "step" : undefined}
            className={`flex gap-2 border-l-2 py-1 pl-2 ${i === cursor - 1 ? "border-plum" : "border-transparent"} ${i >= cursor ? "text-ink-soft line-through" : ""}`}
          >
            <span className="w-5 shrink-0 text-right font-mono text-ink-soft">{i + 1}</span>
            <span>{entry.sentence ?? "On its way to the server…"}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}
