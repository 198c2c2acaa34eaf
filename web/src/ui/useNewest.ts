// A question to the server about a value that changes quickly.
import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";

type Good<Value, Answer> = { of: Value; answer: Answer };

/**
 * Ask about the newest value, one question at a time, and keep the last good answer.
 *
 * value: compared by identity; `null` asks nothing. before: the last good answer. fresh: whether the server has answered for the value as it stands.
 */
export function useNewest<Value, Answer>(
  value: Value | null,
  ask: (value: Value, signal: AbortSignal, before: Answer | null) => Promise<Answer>,
) {
  const id = useId();
  // The key is a number, not the value: values are whole lists of steps.
  const [asked, setAsked] = useState({ number: 0, value });
  const [good, setGood] = useState<Good<Value, Answer> | null>(null);
  const { value: of } = asked;
  const { data, error, isFetching } = useQuery({
    queryKey: ["newest", id, asked.number],
    queryFn: async ({ signal }) =>
      of === null ? null : { of, answer: await ask(of, signal, good?.answer ?? null) },
    enabled: of !== null,
    gcTime: 0,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (!isFetching && of !== value) setAsked({ number: asked.number + 1, value });
  if (data && data !== good) setGood(data);
  return {
    of: good?.of ?? null,
    answer: good?.answer ?? null,
    why: of === null ? null : (error?.message ?? null),
    fresh: of === value && !isFetching && (data != null || error !== null),
  };
}
