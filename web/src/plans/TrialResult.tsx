// What a student would be told of the author's trial; it counts for nothing and is kept nowhere.
import type { Judged, Result } from "../api/types";
import { ResultScreen } from "../marks/ResultPage";
import { Button } from "../ui/parts";

type Props = { judged: Judged; onBack: () => void };

export function TrialResult({ judged, onBack }: Props) {
  return (
    <ResultScreen result={asOwn(judged)} back={<Button onClick={onBack}>Back to the trial run</Button>} />
  );
}

/** A student sees her own work so, the first time that she hands it in. */
function asOwn(judged: Judged): Result {
  return {
    ...judged,
    submission: 0,
    assignment: 0,
    number: 1,
    class_id: 0,
    class_name: "",
    person: 0,
    student: "",
    own: true,
    submitted_at: new Date().toISOString(),
    days_late: 0,
    kept: 1,
    excused: false,
    feedback_at: null,
    since: null,
    attempts: [],
    points_set: {},
    changes: [],
    may_review: false,
    explained: true,
    file: null,
    notes: [],
  };
}
