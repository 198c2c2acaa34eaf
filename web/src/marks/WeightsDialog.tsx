// The weights of the assignments in the total.
import { useState } from "react";
import { api } from "../api/client";
import type { Board } from "../api/types";
import { amountOf } from "../ui/amount";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { percent, short } from "../ui/numbers";
import { Button } from "../ui/parts";
import { Cell, Table } from "../ui/table";

type Props = { board: Board; onClose: () => void; onSaved: () => void };

export function WeightsDialog({ board, onClose, onSaved }: Props) {
  const [typed, setTyped] = useState(() => board.columns.map((item) => short(item.weight)));
  const [problem, setProblem] = useState("");
  const weights = typed.map((text) => {
    const weight = amountOf(text);
    return weight !== null && weight >= 0 && weight <= 1000 ? weight : null;
  });
  const sum = weights.reduce<number>((before, weight) => before + (weight ?? 0), 0);
  const sound = weights.every((weight) => weight !== null);
  const save = () =>
    void api
      .setWeights(
        board.class_id,
        board.columns.map((item, i) => ({ assignment: item.assignment, weight: weights[i] ?? 0 })),
      )
      .then(onSaved)
      .catch((error: Error) => setProblem(error.message));
  return (
    <Dialog
      open
      onClose={onClose}
      title="Weights"
      text="The total is the weighted mean of the marks that count. A weight of 0 leaves an assignment out; missing work is 0 once it is due."
    >
      <form
        className="mt-3"
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
      >
        <div className="max-h-[50vh] overflow-y-auto">
          <Table caption="" heads={["Exercise", "Weight", "Share of the total"]}>
            {board.columns.map((item, i) => (
              <tr key={item.assignment} className="border-b border-hairline">
                <Cell>{item.title}</Cell>
                <Cell>
                  <input
                    aria-label={`Weight of ${item.title}`}
                    inputMode="decimal"
                    value={typed[i]}
                    aria-invalid={weights[i] === null}
                    onChange={(event) =>
                      setTyped(typed.map((old, at) => (at === i ? event.target.value : old)))
                    }
                    className="h-7 w-20 rounded-md border border-edge bg-paper px-1.5 text-right font-mono aria-invalid:border-fail"
                  />
                </Cell>
                <Cell>
                  <span className="font-mono">{sum > 0 ? percent((weights[i] ?? 0) / sum) : "–"}</span>
                </Cell>
              </tr>
            ))}
          </Table>
        </div>
        {problem && (
          <p role="alert" className="mt-2 text-fail">
            {problem}
          </p>
        )}
        <DialogButtons>
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={!sound}>
            Save weights
          </Button>
        </DialogButtons>
      </form>
    </Dialog>
  );
}
