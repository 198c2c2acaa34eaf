// What a step would do before it is done: asked of the core while one chooses, at most fifteen times a second.
import { useEffect, useMemo, useRef } from "react";
import type { DraftSteps, Preview, Step } from "../api/types";
import type { Reading } from "../state/sentence";
import { useBench } from "../state/store";
import { listOf, type Work } from "./draft";

const AT_MOST_EVERY_MS = 67;

export type AskPreview = (list: DraftSteps) => Promise<Preview>;

/** A step that the browser does not preview itself, as it reads once the core has told what it would do. */
export function useGhost(ask: AskPreview, work: Work, made: Step | string | null): Reading | null {
  const step = typeof made === "object" ? made : null;
  const key = step && JSON.stringify(step);
  const ghost = useBench((state) => state.ghost);
  const newest = useRef<string | null>(null);
  const lastAsked = useRef(0);
  const { entries, cursor } = work;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says all that the step says
  useEffect(() => {
    newest.current = key;
    const { set } = useBench.getState();
    if (!step) return set({ ghost: null });
    const pause = AT_MOST_EVERY_MS - (performance.now() - lastAsked.current);
    const timer = setTimeout(async () => {
      lastAsked.current = performance.now();
      const { steps, off } = listOf(entries.slice(0, cursor));
      let told: Pick<Preview, "step" | "refused"> | null = null;
      let why = "";
      try {
        told = await ask({ steps: [...steps, step], off, cursor: steps.length + 1 });
        why = told.refused?.text.replace(/^Step \d+: /, "") ?? "";
      } catch (error) {
        why = error instanceof Error ? error.message : "";
      }
      if (newest.current === key) set({ ghost: { step, told: told?.step ?? null, why } });
    }, pause);
    return () => clearTimeout(timer);
  }, [ask, key, entries, cursor]);
  return useMemo(() => {
    if (made === null) return null;
    if (typeof made === "string") return { kind: "not-ready", why: made };
    if (!ghost || JSON.stringify(ghost.step) !== key)
      return { kind: "asked", step: made, why: "One moment…" };
    if (!ghost.told) return { kind: "not-ready", why: ghost.why };
    return { kind: "ready", step: made, words: `Enter: ${ghost.told.sentence}.` };
  }, [made, ghost, key]);
}
