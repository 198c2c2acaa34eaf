// The sentence of a kind under More, as its chips and its drawing are given it.
import type { Exercise, SceneObject } from "../api/types";
import type { MoreOp, MoreSentence, Values } from "../state/sentence";
import { setBench, useBench, useBenchParts } from "../state/store";
import type { ChipsProps } from "../steps/kind";

type Parts = { objects: readonly SceneObject[]; conventions: Exercise["conventions"] };

export function useMore({
  objects,
  conventions,
}: Parts): { more: MoreSentence; props: ChipsProps<MoreOp> } | null {
  const { sentence, more } = useBenchParts("sentence", "more");
  if (!more) return null;
  const context = { objects, chosen: sentence.objects, conventions };
  return { more, props: { values: more.values, change: changeMore, context } };
}

function changeMore(part: Values<MoreOp>): void {
  const { more } = useBench.getState();
  if (more) setBench({ more: { ...more, values: { ...more.values, ...part } }, quiet: false });
}
