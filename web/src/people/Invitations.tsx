// Requests to teach a class: nobody becomes an instructor without saying yes.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import type { Home } from "../api/types";
import { Button, ErrorNote, Heading } from "../ui/parts";

export function Invitations({ rows }: { rows: Home["invitations"] }) {
  const cache = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const [answered, setAnswered] = useState("");
  const answer = (what: Promise<void>, words: string) =>
    void what
      .then(() => {
        setProblem(null);
        setAnswered(words);
      })
      .catch((error: Error) => setProblem(error.message))
      .then(() => cache.invalidateQueries());
  const status = (
    <p role="status" className={answered ? "mb-2 text-pass" : "sr-only"}>
      {answered}
    </p>
  );
  if (rows.length === 0) return status;
  return (
    <section aria-label="Requests">
      <Heading>Requests</Heading>
      {status}
      <ul className="divide-y divide-hairline rounded-lg border border-hairline bg-sheet">
        {rows.map((row) => (
          <li key={row.class_id} className="flex flex-wrap items-center gap-2 px-4 py-3">
            <p className="min-w-0 flex-1">
              <span className="font-semibold">
                {row.by} asks you to teach {row.class_name}.
              </span>{" "}
              <span className="text-ink-soft">You would see its students and their work.</span>
            </p>
            <Button
              look="main"
              onClick={() => answer(api.acceptInvitation(row.class_id), `You teach ${row.class_name} now.`)}
            >
              Accept
            </Button>
            <Button
              onClick={() =>
                answer(
                  api.declineInvitation(row.class_id),
                  `You declined the request to teach ${row.class_name}.`,
                )
              }
            >
              Decline
            </Button>
          </li>
        ))}
      </ul>
      {problem && <ErrorNote text={problem} />}
    </section>
  );
}
