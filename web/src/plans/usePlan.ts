// A plan's card at work: every change is saved; undo and redo go over all of it.
import { useCallback, useState } from "react";
import { api } from "../api/client";
import type { Card, Plan } from "../api/types";
import { placeOf } from "../saving/copies";
import { useSaver } from "../saving/useSaver";
import {
  CARD_KIND,
  type CardAnswer,
  type CardCopy,
  type CardWork,
  type Key,
  redone,
  undone,
  withPart,
  workOf,
} from "./planCard";

export function usePlan(plan: Plan, person: string) {
  const [first] = useState(() => workOf(plan));
  const {
    doc: work,
    change,
    ...saver
  } = useSaver<CardWork, CardCopy, CardAnswer>({
    kind: CARD_KIND,
    first,
    place: placeOf("plan", person, plan.plan),
    person,
    viewOnly: !plan.may_edit,
    send: async ({ revision, card }) => ({
      revision: (await api.saveCard(plan.plan, revision, card)).revision,
      card,
    }),
    newerIn: ({ body }) => (body.code === "stale-plan" ? api.plan(plan.plan) : null),
    mendOf: ({ body }) => (body.status === 422 ? (now) => ({ ...undone(now), future: [] }) : null),
  });
  return {
    ...saver,
    work,
    card: work.card,
    put: useCallback(
      <K extends Key>(key: K, value: Card[K], stretch?: string) =>
        change((now) => withPart(now, key, value, stretch)),
      [change],
    ),
    undo: useCallback(() => change(undone), [change]),
    redo: useCallback(() => change(redone), [change]),
  };
}

export type PlanControl = ReturnType<typeof usePlan>;
