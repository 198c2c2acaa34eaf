"""Work as a file: sent, looked at in the exercise's axes, matched, submitted, and had again as it came."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Final

from sqlalchemy.orm import Session

from cubedrill.core.judging.matching import Match
from cubedrill.core.judging.submission import (
    AnySubmission,
    SceneFile,
    SceneSubmission,
    StepsSubmission,
    matched_with,
    scene_in,
)
from cubedrill.core.lru_cache import LruCache
from cubedrill.core.scene.scene import Scene
from cubedrill.formats.documents import FormatError, Read, imported_from, submission_in
from cubedrill.formats.imported import READER_VERSION, Imported
from cubedrill.service.access import assignment_for, submission_for
from cubedrill.service.disclosure import Disclosure, as_seen, while_working, work_as_seen
from cubedrill.service.errors import RefusedError
from cubedrill.service.prepared import PreparedExercise, assigned_exercise
from cubedrill.service.rendering import shown_exercise, shown_matches, shown_objects, shown_poses
from cubedrill.service.responses import MatchResponse
from cubedrill.service.work.bench import Source, add_submission
from cubedrill.service.work.responses import FileResponse
from cubedrill.store.assignments import terms_of
from cubedrill.store.documents import SUBMISSION
from cubedrill.store.tables import Assignment, Person, UploadedFile
from cubedrill.store.work import files, submissions

# Contents of stored files for an exercise; neither a file nor a version ever changes.
_READ: Final[LruCache[tuple[int, datetime, int, tuple[tuple[str, str], ...]], Read]] = LruCache(20)


@dataclass(frozen=True)
class SentFile:
    """A file as it was sent; order: increases with each file that a browser sends, or 0 if unknown."""

    name: str
    content: bytes
    order: int = 0


def take_file(db: Session, person: Person, assignment_id: int, sent: SentFile) -> FileResponse:
    """Keep a file that can be read, and return what is in it.

    It replaces an earlier file that was not submitted. Raises RefusedError "unreadable-file", or "newer-file" if a
    file that was sent later arrived first.
    """
    assignment = assignment_for(db, person, assignment_id, "student")
    imported = _imported_from(sent.content, sent.name)
    read = _read(assigned_exercise(assignment), sent.name, sent.content, {}, imported)
    submissions.hold(db, assignment.id, person.id)
    newest = files.newest_order(db, assignment.id, person.id)
    if sent.order and sent.order < newest:
        raise RefusedError("newer-file", name=sent.name)
    file = UploadedFile(
        assignment_id=assignment.id,
        person_id=person.id,
        name=sent.name,
        content=sent.content,
        imported=None if imported is None else imported.model_dump_json(exclude_unset=True).encode(),
        reader_version=READER_VERSION,
        sent_order=sent.order or newest,
    )
    return _shown(db, assignment, files.keep_file(db, file), read)


def look_at_file(
    db: Session, person: Person, assignment_id: int, file_id: int, chosen: Mapping[str, str]
) -> FileResponse:
    """Return what is in a file; chosen: conventions that it does not say, by their names."""
    assignment, file = _file_for(db, person, assignment_id, file_id)
    return _shown(db, assignment, file, _read_stored(assignment, file, chosen))


def submit_file(
    db: Session,
    person: Person,
    kept: tuple[int, int],
    choices: tuple[Mapping[str, str], Mapping[str, str | None]],
    now: datetime,
) -> int:
    """Submit what is in a file; the same work again is the same submission.

    kept: the assignment, and the file. choices: the conventions that it does not state, and the matching. Raises
    RefusedError "unreadable-file", or the CoreError of work that cannot be.
    """
    assignment, file = _file_for(db, person, *kept)
    ready = assigned_exercise(assignment)
    document = _read_stored(assignment, file, choices[0]).document
    if isinstance(document, SceneSubmission):
        scene = document.scene.model_copy(update={"matches": {**document.scene.matches, **choices[1]}})
        document = document.model_copy(update={"scene": scene})
    submissions.hold(db, assignment.id, person.id)  # so that two at once do not make two of the same
    before = submissions.newest_of(db, assignment.id, person.id)
    same_version = before is not None and before.exercise_version_id == assignment.exercise_version_id
    if before is not None and same_version and SUBMISSION.read(before.document, before.shape) == document:
        return before.id
    # What came as a file has no revision of a draft; its number, taken from below zero, is no other's.
    revision = -submissions.next_number(db, assignment.id, person.id)
    source = Source(assignment, person.id, revision, file.id)
    return add_submission(db, ready, source, document, now)


def file_of(db: Session, person: Person, submission_id: int) -> UploadedFile:
    """Return the file that a submission came as; raise RefusedError "not-found" where it came as none."""
    submission = submission_for(db, person, submission_id)
    file = None if submission.file_id is None else files.file_by_id(db, submission.file_id)
    if file is None:
        raise RefusedError("not-found")
    return file


def _file_for(db: Session, person: Person, assignment_id: int, file_id: int) -> tuple[Assignment, UploadedFile]:
    assignment = assignment_for(db, person, assignment_id, "student")
    file = files.file_by_id(db, file_id)
    if file is None or (file.assignment_id, file.person_id) != (assignment.id, person.id):
        raise RefusedError("not-found")
    return assignment, file


def _imported_from(content: bytes, name: str) -> Imported | None:
    try:
        return imported_from(content, name)
    except FormatError as error:
        raise RefusedError("unreadable-file", why=str(error)) from None


def _read(
    ready: PreparedExercise, name: str, content: bytes, chosen: Mapping[str, str], imported: Imported | None
) -> Read:
    try:
        return submission_in(content, name, ready.exercise, chosen, imported)
    except FormatError as error:
        raise RefusedError("unreadable-file", why=str(error)) from None


def _read_stored(assignment: Assignment, file: UploadedFile, chosen: Mapping[str, str]) -> Read:
    """Return the contents of a stored file: as they were read when it came, unless the readers have changed since."""

    def read() -> Read:
        imported = None
        if file.imported is not None and file.reader_version == READER_VERSION:
            imported = Imported.model_validate_json(file.imported)
        return _read(assigned_exercise(assignment), file.name, file.content, chosen, imported)

    key = (file.id, file.sent_at, assignment.exercise_version_id, tuple(sorted(chosen.items())))
    return _READ.get(key, read)


def _shown(db: Session, assignment: Assignment, file: UploadedFile, read: Read) -> FileResponse:
    ready = assigned_exercise(assignment)
    seen = while_working(ready.exercise.rules)
    scene, matches = _picture(ready, seen, read.document)
    return FileResponse(
        assignment=assignment.id,
        due_at=terms_of(db, assignment, file.person_id).due_at,
        exercise=shown_exercise(ready, seen),
        file=file.id,
        name=file.name,
        kind=read.document.kind,
        conventions=_conventions(ready, read.document),
        asked=read.asked,
        notes=read.notes,
        objects=shown_objects(scene),
        placed=shown_poses(scene),
        matches=matches,
    )


def _picture(
    ready: PreparedExercise, seen: Disclosure, document: AnySubmission
) -> tuple[Scene, tuple[MatchResponse, ...]]:
    """Return the scene of a file in the exercise's conventions, under the file's own names, and the matching.

    Objects have the colours of the target if the student may see it, else those of the start.
    """
    if not isinstance(document, SceneSubmission):
        return work_as_seen(ready, seen, document).scene, ()
    found = matched_with(ready.target, document.scene)[1]
    known = as_seen(ready, seen).target
    of_known = [match for match in found if match.target in known.objects]
    scene = _dressed(scene_in(ready.target, document.scene), document.scene, known, of_known)
    return scene, shown_matches(found, ready.target.objects.values()) if seen.matches else ()


def _dressed(scene: Scene, file: SceneFile, target: Scene, found: Iterable[Match]) -> Scene:
    """Return the scene with what the file does not say of how things look as it is in the exercise."""
    said = {spec.id: spec.model_fields_set for spec in file.objects}
    looks = ("colour", "opacity", "locked")
    return scene.with_objects(
        [
            replace(
                scene[each.submitted],
                **{name: getattr(target[each.target], name) for name in looks if name not in said[each.submitted]},
            )
            for each in found
        ]
    )


def _conventions(ready: PreparedExercise, document: AnySubmission) -> Mapping[str, str]:
    own = ready.exercise.conventions
    if isinstance(document, SceneSubmission):
        own = document.scene.conventions
    elif not isinstance(document, StepsSubmission):
        own = document.conventions or own
    return {"up": own.up, "handedness": own.handedness, "length": own.length}
