// What the instructor makes of it: points for a check with a reason, a remark on the whole; every change stays in sight.
import { useQuery } from "@tanstack/react-query";
import { Pencil } from "lucide-react";
import { useMemo, useState } from "react";
import { api } from "../api/client";
import type { CheckResult, RemarkPlace, RemarkView, Result } from "../api/types";
import { LeaveDialog } from "../saving/LeaveDialog";
import { amountOf } from "../ui/amount";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { counted, dateTime, short } from "../ui/numbers";
import { Button, Heading, IconButton } from "../ui/parts";
import { Select } from "../ui/Select";
import { placesIn, placeWords } from "./remarks";
import { useReview } from "./useReview";

const FIELD = "mt-1 w-full rounded-md border border-edge bg-paper px-2 py-1";

/** The points of a check: the instructor's, with the program's beside them where they differ. */
export function Points({ result, check }: { result: Result; check: CheckResult }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState(""); // kept while the dialog is closed in the middle of it
  const given = result.points_set[check.id];
  const byHand = check.kind === "by-hand";
  const own = byHand ? "–" : short(Number(check.points.toFixed(2)));
  return (
    <span className="inline-flex items-start gap-1">
      <span>
        <span className="font-mono whitespace-nowrap">
          {given === undefined ? own : <strong>{short(given)}</strong>} / {short(check.of)}
        </span>
        {given !== undefined && (
          <span className="block text-sm text-ink-soft">
            by an instructor{!byHand && `; the program gave ${own}`}
          </span>
        )}
      </span>
      {result.may_review && (
        <span className="-mt-1.5 print:hidden">
          <IconButton label={`Change the points of ${check.label}`} onClick={() => setOpen(true)}>
            <Pencil size={14} aria-hidden />
          </IconButton>
        </span>
      )}
      {open && (
        <PointsDialog
          result={result}
          check={check}
          reason={reason}
          setReason={setReason}
          onClose={() => setOpen(false)}
        />
      )}
    </span>
  );
}

type PointsProps = {
  result: Result;
  check: CheckResult;
  reason: string;
  setReason: (reason: string) => void;
  onClose: () => void;
};

function PointsDialog({ result, check, reason, setReason, onClose }: PointsProps) {
  const given = result.points_set[check.id];
  const [points, setPoints] = useState(short(given ?? check.points));
  const review = useReview(result.submission, () => {
    setReason("");
    onClose();
  });
  const value = amountOf(points);
  const byHand = check.kind === "by-hand";
  const said = byHand || reason.trim() !== "";
  const sound = value !== null && value >= 0 && value <= check.of && said;
  const send = (set: number | null) =>
    review.mutate({ check: check.id, points: set, text: reason.trim(), place: null });
  return (
    <Dialog open onClose={onClose} title={`Points for ${check.label}`} text={check.text}>
      <label className="mt-4 block">
        Points, 0 to {short(check.of)}
        <input
          value={points}
          onChange={(event) => setPoints(event.target.value)}
          className={`${FIELD} font-mono`}
        />
      </label>
      <label className="mt-3 block">
        Reason ({byHand && "optional; "}the student sees it)
        <textarea
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          className={`${FIELD} h-20`}
        />
      </label>
      {review.error && (
        <p role="alert" className="mt-2 text-fail">
          {review.error.message}
        </p>
      )}
      <DialogButtons>
        <Button onClick={onClose}>Cancel</Button>
        {given !== undefined && (
          <Button disabled={!said || review.isPending} onClick={() => send(null)}>
            {byHand ? "Not judged" : "Use the program’s points"}
          </Button>
        )}
        <Button look="main" disabled={!sound || review.isPending} onClick={() => send(value)}>
          Save points
        </Button>
      </DialogButtons>
    </Dialog>
  );
}

type RemarksProps = {
  result: Result;
  /** The view as it is now. */
  viewNow: () => RemarkView;
  onShow: (place: RemarkPlace) => void;
};

export function Remarks({ result, viewNow, onShow }: RemarksProps) {
  const [text, setText] = useState("");
  const [on, setOn] = useState("whole");
  const places = useMemo(() => placesIn(result), [result]);
  const review = useReview(result.submission, () => setText(""));
  if (result.changes.length === 0 && !result.may_review) return null;
  const label = (check: string) => result.report.checks.find((item) => item.id === check)?.label ?? check;
  return (
    <section aria-label="Remarks">
      <LeaveDialog
        unkept={text.trim() !== ""}
        title="Unsaved remark"
        text="Your remark is not saved yet. If you leave, it is lost."
      />
      <Heading>{result.may_review ? "Your remarks and changes" : "From your instructor"}</Heading>
      <ul className="space-y-1.5">
        {result.changes.map((change) => (
          <li key={`${change.made_at} ${change.check}`}>
            <span className="text-sm text-ink-soft">
              {change.by}, {dateTime(change.made_at)}
              {change.check !== null &&
                (change.points === null
                  ? ` – ${label(change.check)}: points taken back`
                  : ` – ${counted(change.points, "point")} for ${label(change.check)}`)}
            </span>
            {change.place && (
              <button
                type="button"
                onClick={() => onShow(change.place!)}
                className="block text-left text-plum underline underline-offset-2"
              >
                {placeWords(change.place, result)}
              </button>
            )}
            {change.text && <p className="whitespace-pre-wrap">{change.text}</p>}
          </li>
        ))}
      </ul>
      {result.may_review && (
        <form
          className="mt-2 print:hidden"
          onSubmit={(event) => {
            event.preventDefault();
            const place = places.find((each) => each.value === on)!.place;
            if (text.trim())
              review.mutate({
                check: null,
                points: null,
                text: text.trim(),
                place: { ...place, view: viewNow() },
              });
          }}
        >
          <label className="block">
            A remark for {result.student}
            <textarea
              value={text}
              onChange={(event) => setText(event.target.value)}
              className={`${FIELD} h-16`}
            />
          </label>
          <div className="mt-1 flex items-center gap-2">
            On
            <Select
              label="What the remark is on"
              value={on}
              options={places}
              onChange={setOn}
              className="max-w-96"
            />
          </div>
          <p className="text-sm text-ink-soft">The current view is saved with the remark.</p>
          <UsedBefore
            assignment={result.assignment}
            onChoose={(words) => setText(text ? `${text}\n${words}` : words)}
          />
          {review.error && (
            <p role="alert" className="text-fail">
              {review.error.message}
            </p>
          )}
          <Button className="mt-1.5" type="submit" disabled={!text.trim() || review.isPending}>
            Save remark
          </Button>
        </form>
      )}
    </section>
  );
}

/** What was written on submissions of this exercise before, to be taken again. */
function UsedBefore({ assignment, onChoose }: { assignment: number; onChoose: (words: string) => void }) {
  const found = useQuery({ queryKey: ["remarks", assignment], queryFn: () => api.remarks(assignment) });
  if (!found.data?.length) return null;
  return (
    <details className="mt-1">
      <summary className="cursor-pointer text-sm text-ink-soft">Earlier remarks</summary>
      <ul className="mt-1 space-y-0.5">
        {found.data.map((words) => (
          <li key={words}>
            <button
              type="button"
              onClick={() => onChoose(words)}
              className="rounded-sm px-1 text-left text-plum underline underline-offset-2 hover:bg-well"
            >
              {words}
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}
