"""Why did it miss? The mistake that, put into the reference, leads to what was submitted."""

from __future__ import annotations

import math
from dataclasses import replace

from cubedrill.core.judging.causes.candidate_judge import CandidateJudge
from cubedrill.core.judging.causes.candidates import Candidates
from cubedrill.core.judging.causes.counted import counted
from cubedrill.core.judging.causes.effort import MAX_EFFORT, Effort
from cubedrill.core.judging.causes.found import Spot, causes_of
from cubedrill.core.judging.causes.known import Known
from cubedrill.core.judging.submission import LoadedSubmission
from cubedrill.core.judging.verdict import Cause


class Explainer(Known):
    """Explain why submissions of one exercise miss."""

    def explain(self, work: LoadedSubmission) -> tuple[Cause, ...]:
        """Return the causes of what is missed, the likeliest first; none for what passes, none that is a guess."""
        return self.explain_within(work, MAX_EFFORT)[0]

    def explain_within(self, work: LoadedSubmission, most: float) -> tuple[tuple[Cause, ...], bool]:
        """Return the causes that so much effort finds, and whether all was tried that could be."""
        effort = Effort(most)
        view = CandidateJudge(self, work, effort)
        missed = [i for i in self.checked if view.misses(i)]
        candidates = Candidates(view, missed)
        found, causes, known = candidates.all(), [], set[Spot]()
        effort.most = math.inf  # telling what was found needs no more looking
        while found:
            best = min(found, key=lambda each: each.rank_beside(known))
            spots, said = best.spots, causes_of(view, best, found, all_tried=candidates.whole)
            causes += [cause for spot, cause in zip(spots, said, strict=True) if spot not in known]
            known.update(spots)
            left = (replace(each, objects=each.objects - best.objects) for each in found)
            found = [each for each in left if each.objects]
        return tuple(causes) or tuple(counted(view)), candidates.whole
