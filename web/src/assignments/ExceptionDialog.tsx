// Another due date, more attempts, or excused: for one student, or for several at once.
import { useState } from "react";
import { api } from "../api/client";
import type { Exception } from "../api/types";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { DateField, Field, TextField } from "../ui/fields";
import { counted } from "../ui/numbers";
import { Button, Tick } from "../ui/parts";
import { AttemptsField } from "./AttemptsField";

type Someone = { person: number; name: string };

type Props = {
  assignment: number;
  title: string;
  zone: string;
  student: Someone;
  /** Others who can get the same exception. */
  others: readonly Someone[];
  exception: Exception | null;
  onClose: () => void;
  onSaved: () => void;
};

export function ExceptionDialog({
  assignment,
  title,
  zone,
  student,
  others,
  exception,
  onClose,
  onSaved,
}: Props) {
  const [people, setPeople] = useState<ReadonlySet<number>>(new Set([student.person]));
  const [due, setDue] = useState(exception?.due ?? "");
  const [attempts, setAttempts] = useState(exception?.attempts ?? null);
  const [excused, setExcused] = useState(exception?.excused ?? false);
  const [reason, setReason] = useState(exception?.reason ?? "");
  const [problem, setProblem] = useState("");
  const something = due !== "" || attempts !== null || excused;
  const save = (body: { due: string | null; attempts: number | null; excused: boolean; reason: string }) =>
    void api
      .setExceptions(assignment, { people: [...people], ...body })
      .then(onSaved)
      .catch((error: Error) => setProblem(error.message));
  return (
    <Dialog open onClose={onClose} title={`Exception for ${student.name}`} text={title}>
      <form
        className="mt-4"
        onSubmit={(event) => {
          event.preventDefault();
          save({ due: due || null, attempts, excused, reason });
        }}
      >
        <div className="mb-3">
          <Tick id="excused" text="Excused: left out of the total" on={excused} onChange={setExcused} />
        </div>
        <div className="grid grid-cols-2 gap-x-4 max-sm:grid-cols-1">
          <DateField label={`Own due date, ${zone}`} value={due} onChange={setDue} />
          <AttemptsField label="Attempts allowed" value={attempts} onChange={setAttempts} />
        </div>
        <p className="mb-3 text-sm text-ink-soft">A blank field means: the same as for the class.</p>
        <TextField
          label="Reason (only instructors see it)"
          value={reason}
          most={1000}
          lines={2}
          onChange={setReason}
        />
        {others.length > 0 && (
          <details>
            <summary className="cursor-pointer text-ink-soft">
              {people.size > 1 ? `Also for ${people.size - 1} more` : "Also for other students"}
            </summary>
            <Field label="">
              <ul className="mt-1 grid max-h-48 grid-cols-2 gap-x-4 gap-y-1 overflow-y-auto max-sm:grid-cols-1">
                {others.map((other) => (
                  <li key={other.person}>
                    <Tick
                      id={`also ${other.person}`}
                      text={other.name}
                      on={people.has(other.person)}
                      onChange={(on) => {
                        const next = new Set(people);
                        if (on) next.add(other.person);
                        else next.delete(other.person);
                        setPeople(next);
                      }}
                    />
                  </li>
                ))}
              </ul>
            </Field>
          </details>
        )}
        {problem && (
          <p role="alert" className="mt-2 text-fail">
            {problem}
          </p>
        )}
        <DialogButtons>
          <Button onClick={onClose}>Cancel</Button>
          {exception && (
            <Button onClick={() => save({ due: null, attempts: null, excused: false, reason: "" })}>
              Remove exception
            </Button>
          )}
          <Button look="main" type="submit" disabled={!something}>
            Save{people.size > 1 ? ` for ${counted(people.size, "student")}` : ""}
          </Button>
        </DialogButtons>
      </form>
    </Dialog>
  );
}
