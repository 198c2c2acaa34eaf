// A preview from the core of a step that the browser does not preview itself.
import { useEffect, useMemo, useState } from "react";
import type { DraftSteps, Preview, Step } from "../api/types";
import type { Reading } from "../state/sentence";
import { setBench } from "../state/store";
import { useNewest } from "../ui/useNewest";
import { listOf, type Work } from "./draft";

export type AskPreview = (list: DraftSteps, signal?: AbortSignal) => Promise<Preview>;

type Asked = { step: Step; list: DraftSteps };

/** The reading of a step: asked, until the core has previewed it. The preview goes to the view through the store. */
export function usePreview(ask: AskPreview, work: Work, made: Step | string | null): Reading | null {
  const step = useSame(typeof made === "object" ? made : null);
  const { entries, cursor } = work;
  const asked = useMemo((): Asked | null => {
    if (!step) return null;
    const { steps, off } = listOf(entries.slice(0, cursor));
    return { step, list: { steps: [...steps, step], off, cursor: steps.length + 1 } };
  }, [step, entries, cursor]);
  const { answer, why, fresh } = useNewest(asked, ({ list }, signal) => ask(list, signal));
  const refused = why ?? answer?.refused?.text.replace(/^Step \d+: /, "") ?? "";
  const preview = step && !why ? (answer?.step ?? null) : null; // of the step before, until the answer is here
  useEffect(() => setBench({ ghost: preview }), [preview]);
  return useMemo(() => {
    if (made === null) return null;
    if (typeof made === "string") return { kind: "not-ready", why: made };
    if (!fresh) return { kind: "asked", step: made, why: "One moment…" };
    if (!preview) return { kind: "not-ready", why: refused };
    return { kind: "ready", step: made, words: `Enter: ${preview.sentence}.` };
  }, [made, fresh, preview, refused]);
}

/** The same object as before while its content is the same. */
function useSame(step: Step | null): Step | null {
  const [kept, setKept] = useState(step);
  if (kept === step || JSON.stringify(kept) === JSON.stringify(step)) return kept;
  setKept(step);
  return step;
}
