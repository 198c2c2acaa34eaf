// With whom a plan is shared: the instructors of a class, or a person; to view it, or to edit it.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import type { Share, Sharing } from "../api/types";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { ListField } from "../ui/fields";
import { Button, ErrorNote, Waiting } from "../ui/parts";

type Right = Share["right"] | "none";

const RIGHTS: { value: Right; text: string }[] = [
  { value: "none", text: "No access" },
  { value: "view", text: "Can view" },
  { value: "edit", text: "Can edit" },
];

type Props = { plan: number; title: string; onClose: () => void };

export function SharingDialog({ plan, title, onClose }: Props) {
  const { data, error } = useQuery({
    queryKey: ["sharing", plan],
    queryFn: () => api.sharing(plan),
    gcTime: 0,
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Share ${title}`}
      text="Anyone who can view a plan can also copy it."
    >
      {error && <ErrorNote text={error.message} />}
      {data ? <Rights plan={plan} sharing={data} onClose={onClose} /> : <Waiting what="Loading…" />}
    </Dialog>
  );
}

/** Everybody whom it could be shared with, and those whom it is shared with already. */
export function rowsOf({ shares, classes, people }: Sharing): Share[] {
  const keys = new Set(shares.map(keyOf));
  return [...shares, ...classes, ...people].filter((row, i) => i < shares.length || !keys.has(keyOf(row)));
}

function keyOf(row: Share): string {
  return row.class_id === null ? `person ${row.person}` : `class ${row.class_id}`;
}

function Rights({ plan, sharing, onClose }: { plan: number; sharing: Sharing; onClose: () => void }) {
  const cache = useQueryClient();
  const rows = rowsOf(sharing);
  const [rights, setRights] = useState<Readonly<Record<string, Right>>>(() =>
    Object.fromEntries(sharing.shares.map((row) => [keyOf(row), row.right])),
  );
  const [problem, setProblem] = useState<string | null>(null);
  const save = () => {
    const shares = rows.flatMap((row) => {
      const right = rights[keyOf(row)] ?? "none";
      return right === "none" ? [] : [{ class_id: row.class_id, person: row.person, right }];
    });
    void api
      .setSharing(plan, shares)
      .then(() => cache.invalidateQueries({ queryKey: ["library"] }))
      .then(onClose)
      .catch((error: Error) => setProblem(error.message));
  };
  return (
    <form
      className="mt-4"
      onSubmit={(event) => {
        event.preventDefault();
        save();
      }}
    >
      {rows.length === 0 && <p>Nobody to share with yet: you do not teach a class.</p>}
      {rows.map((row) => (
        <ListField
          key={keyOf(row)}
          label={row.class_id === null ? row.name : `Instructors of ${row.name}`}
          value={rights[keyOf(row)] ?? "none"}
          options={RIGHTS}
          onChange={(right) => setRights((old) => ({ ...old, [keyOf(row)]: right as Right }))}
        />
      ))}
      {problem && <ErrorNote text={problem} />}
      <DialogButtons>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" type="submit">
          Save sharing
        </Button>
      </DialogButtons>
    </form>
  );
}
