// Why it missed, as far as the author tells: each cause one sentence, with the way to see it.

import { Play } from "lucide-react";
import type { Cause, Result } from "../api/types";
import { Button, Heading } from "../ui/parts";

type Props = { result: Result; onShow: (cause: Cause) => void };

export function Causes({ result, onShow }: Props) {
  const { causes, parted, cancelling, own } = result;
  const whose = own ? "Your step" : "Step";
  const notes = [
    ...(parted !== null && causes.length > 0
      ? [`${whose} ${parted} is the first that differs from the reference.`]
      : []),
    ...cancelling.map(([first, second]) => `${whose}s ${first} and ${second} cancel each other.`),
  ];
  if (causes.length + notes.length === 0) {
    if (result.explained) return null;
    return (
      <p role="status" className="text-ink-soft">
        Finding the cause…
      </p>
    );
  }
  return (
    <section aria-label="Why">
      <Heading>{causes.length > 0 ? "Most likely cause" : "About the steps"}</Heading>
      <ul className="space-y-2">
        {causes.map((cause, i) => (
          <li
            key={`${cause.object} ${i}`}
            className="flex items-start gap-3 rounded-md bg-plum-soft px-3 py-2"
          >
            <div className="min-w-0 flex-1">
              <p className="font-semibold">{cause.text}</p>
              {cause.proof && <p className="text-sm text-ink-soft">{cause.proof}</p>}
            </div>
            {result.reference && cause.step !== null && result.steps.length > 0 && (
              <Button className="print:hidden" onClick={() => onShow(cause)}>
                <Play size={14} aria-hidden />
                Show
              </Button>
            )}
          </li>
        ))}
      </ul>
      {notes.map((note) => (
        <p key={note} className="mt-1.5 text-ink-soft">
          {note}
        </p>
      ))}
    </section>
  );
}
