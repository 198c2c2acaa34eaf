// Requests to teach a class: nobody becomes an instructor without saying yes.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import type { Home } from "../api/types";
import { Button, ErrorNote, Heading } from "../ui/parts";

export function Invitations({ rows }: { rows: Home["invitations"] }) {
  const cache = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const answer = (what: Promise<void>) =>
    void what
      .then(() => setProblem(null))
      .catch((error: Error) => setProblem(error.message))
      .then(() => cache.invalidateQueries());
  if (rows.length === 0) return null;
  return (
    <section aria-label="Requests">
      <Heading>Requests</Heading>
      <ul className="divide-y divide-hairline rounded-lg border border-hairline bg-sheet">
        {rows.map((row) => (
          <li key={row.class_id} className="flex flex-wrap items-center gap-2 px-4 py-3">
            <p className="min-w-0 flex-1">
              <span className="font-semibold">
                {row.by} asks you to teach {row.class_name}.
              </span>{" "}
              <span className="text-ink-soft">You would see its students and their work.</span>
            </p>
            <Button look="main" onClick={() => answer(api.acceptInvitation(row.class_id))}>
              Accept
            </Button>
            <Button onClick={() => answer(api.declineInvitation(row.class_id))}>Decline</Button>
          </li>
        ))}
      </ul>
      {problem && <ErrorNote text={problem} />}
    </section>
  );
}
