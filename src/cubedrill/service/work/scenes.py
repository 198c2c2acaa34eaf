"""Taking scenes away as files of any kind: what is given, what is wanted, one's own work, what was submitted."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Literal

from sqlalchemy.orm import Session

from cubedrill.core.judging.submission import SceneSubmission, scene_in
from cubedrill.service.access import assignment_for, submission_for
from cubedrill.service.disclosure import EVERYTHING, of_own_submission, while_working, work_as_seen
from cubedrill.service.downloads import Download, ExportFormat, scene_download
from cubedrill.service.errors import RefusedError
from cubedrill.service.prepared import exercise_of
from cubedrill.service.work.bench import step_editor_of
from cubedrill.store.assignments import terms_of
from cubedrill.store.documents import SUBMISSION
from cubedrill.store.tables import Person
from cubedrill.store.work.submissions import next_number

Given = Literal["start", "target"]
Own = Literal["start", "target", "work"]


def take_assignment(db: Session, person: Person, assignment_id: int, which: Own, export: ExportFormat) -> Download:
    """Return the scene that a student sees; raise RefusedError "not-shown" if the target is hidden."""
    assignment = assignment_for(db, person, assignment_id, "student")
    editor = step_editor_of(db, person, assignment_id)
    ready = editor.ready
    if which == "target" and not while_working(ready.exercise.rules).target:
        raise RefusedError("not-shown")
    scene = {"start": lambda: ready.start, "target": lambda: ready.target}.get(
        which, lambda: editor.after(editor.get().draft).states[-1].scene
    )()
    return scene_download(f"{assignment.exercise_version.exercise}-{which}", scene, export)


def take_submission(db: Session, person: Person, submission_id: int, export: ExportFormat) -> Download:
    """Return what was submitted, in the axes of the exercise unless others are chosen."""
    submission = submission_for(db, person, submission_id)
    ready = exercise_of(submission)
    document = SUBMISSION.read(submission.document, submission.shape)
    seen = EVERYTHING
    if submission.person_id == person.id:
        assignment, now = submission.assignment, datetime.now(UTC)
        attempts = next_number(db, assignment.id, person.id) - 1
        seen = of_own_submission(assignment, terms_of(db, assignment, person.id), ready.exercise.rules, attempts, now)
    if isinstance(document, SceneSubmission):
        scene = scene_in(ready.target, document.scene)  # under the names that it had
    else:
        scene = work_as_seen(ready, seen, document).scene
    return scene_download(f"{ready.exercise.id}-{submission.person.sign_in}-{submission.number}", scene, export)
