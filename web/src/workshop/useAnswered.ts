// Something is asked of the server about a value that changes quickly: one question at a time, then the newest.
import { useEffect, useRef, useState } from "react";

type State<Value, Answer> = { of: Value; answer: Answer | null; why: string | null };

/** The newest answer, with the value that it is for; fresh: whether that is the value as it stands. */
export function useAnswered<Value, Answer>(value: Value, ask: (value: Value) => Promise<Answer>) {
  const [state, setState] = useState<State<Value, Answer> | null>(null);
  const [busy, setBusy] = useState(false);
  const latest = useRef(ask);
  latest.current = ask;
  const fresh = state !== null && state.of === value;
  useEffect(() => {
    if (busy || fresh) return;
    setBusy(true);
    latest
      .current(value)
      .then(
        (answer) => setState({ of: value, answer, why: null }),
        (error: Error) =>
          setState((before) => ({ of: value, answer: before?.answer ?? null, why: error.message })),
      )
      .finally(() => setBusy(false));
  }, [value, busy, fresh]);
  return { answer: state?.answer ?? null, why: state?.why ?? null, fresh };
}
