// From one submission of a class to the next, by key: all of them, those not reviewed at, or those with a cause.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import type { Result } from "../api/types";
import { isTyping } from "../ui/focus";
import { Button } from "../ui/parts";
import { Select } from "../ui/Select";
import { ActionLink } from "../ui/table";

type Only = "all" | "unreviewed" | "with cause";

const WHICH = [
  { value: "all", text: "All" },
  { value: "unreviewed", text: "Not reviewed" },
  { value: "with cause", text: "With a known cause" },
] satisfies { value: Only; text: string }[];

// Kept from one submission to the next, as long as the screens are open.
let kept: Only = "all";

export function ReviewNav({ result }: { result: Result }) {
  const [only, setOnly] = useState<Only>(kept);
  const cache = useQueryClient();
  const navigate = useNavigate();
  const found = useQuery({
    queryKey: ["submissions", result.assignment],
    queryFn: () => api.submissions(result.assignment),
  });
  const { submission, assignment, student } = result;
  useEffect(() => {
    // Looked at from now on, for everybody who teaches the class; a list that was asked for before does not know it.
    void api.reviewed(submission).then(() => {
      void cache.invalidateQueries({ queryKey: ["home"] });
      void cache.invalidateQueries({ queryKey: ["submissions", assignment] });
    });
  }, [submission, assignment, cache]);
  const rows = (found.data?.rows ?? []).filter((row) => row.work.newest_submission !== null);
  const here = rows.findIndex((row) => row.student === student);
  const wanted = (row: (typeof rows)[number]) =>
    only === "all" || (only === "unreviewed" ? !row.reviewed : row.causes.length > 0);
  const after = rows.slice(here + 1).find(wanted)?.work.newest_submission;
  const before = rows.slice(0, Math.max(0, here)).reverse().find(wanted)?.work.newest_submission;
  useEffect(() => {
    const typed = (event: KeyboardEvent) => {
      if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      const to = { n: after, b: before }[event.key];
      if (to) navigate(`/result/${to}`);
    };
    window.addEventListener("keydown", typed);
    return () => window.removeEventListener("keydown", typed);
  }, [after, before, navigate]);
  return (
    <nav aria-label="Submissions of the class" className="flex flex-wrap items-center justify-end gap-2">
      <Select
        label="Show submissions"
        value={only}
        options={WHICH}
        onChange={(next) => {
          kept = next as Only;
          setOnly(kept);
        }}
      />
      <Button disabled={!before} onClick={() => navigate(`/result/${before}`)} aria-keyshortcuts="b">
        Previous (B)
      </Button>
      <Button disabled={!after} onClick={() => navigate(`/result/${after}`)} aria-keyshortcuts="n">
        Next (N)
      </Button>
      <ActionLink to={`/assignments/${assignment}`}>All submissions</ActionLink>
    </nav>
  );
}
