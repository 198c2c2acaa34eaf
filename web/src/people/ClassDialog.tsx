// A class made, or given another name or time zone.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import type { ClassBody } from "../api/types";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { ListField, same, TextField } from "../ui/fields";
import { Button } from "../ui/parts";

type Props = {
  title: string;
  given?: ClassBody;
  done: string;
  onClose: () => void;
  onDone: (body: ClassBody) => Promise<unknown>;
};

export function ClassDialog({ title, given, done, onClose, onDone }: Props) {
  const zones = useQuery({ queryKey: ["classes"], queryFn: api.classes }).data?.time_zones ?? [];
  const [name, setName] = useState(given?.name ?? "");
  const [zone, setZone] = useState(given?.time_zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone);
  const [problem, setProblem] = useState<string | null>(null);
  const known = zones.includes(zone) || zones.length === 0 ? zones : ["", ...zones];
  return (
    <Dialog open onClose={onClose} title={title}>
      <form
        className="mt-4"
        onSubmit={(event) => {
          event.preventDefault();
          void onDone({ name: name.trim(), time_zone: zone }).catch((error: Error) =>
            setProblem(error.message),
          );
        }}
      >
        <TextField label="Name" value={name} most={200} onChange={setName} />
        <ListField
          label="Time zone of its dates"
          value={known.includes(zone) ? zone : ""}
          options={known.length > 0 ? same(known) : same([zone])}
          onChange={setZone}
        />
        {problem && (
          <p role="alert" className="text-fail">
            {problem}
          </p>
        )}
        <DialogButtons>
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={!name.trim()}>
            {done}
          </Button>
        </DialogButtons>
      </form>
    </Dialog>
  );
}
