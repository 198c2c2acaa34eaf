// What a student would be told of the author's trial; it counts for nothing and is kept nowhere.
import type { Judged, Result } from "../api/types";
import { ResultScreen } from "../result/ResultPage";
import { Button } from "../ui/parts";

type Props = { judged: Judged; onBack: () => void };

export function TrialResult({ judged, onBack }: Props) {
  return <ResultScreen result={asOwn(judged)} back={<Button onClick={onBack}>Back to the trial</Button>} />;
}

/** A student sees her own work so, the first time that she hands it in. */
function asOwn(judged: Judged): Result {
  return {
    ...judged,
    submission: 0,
    assignment: 0,
    number: 1,
    student: "",
    own: true,
    handed_in_at: new Date().toISOString(),
    late: false,
    late_counts: true,
    told_at: null,
    since: null,
    tries: [],
    points_set: {},
    changes: [],
    may_review: false,
    explained: true,
    file: null,
    notes: [],
  };
}
