"""Documents as rows keep them, apart from the values worked with: each shape is numbered, and read for ever.

Where a value changes so that a kept document would no longer be read as it was meant, its shape gets an upgrade: a
function from a document of the last number to one of the next. A test reads what every release has kept.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Final, Generic, TypeVar

from pydantic import Field, StringConstraints, TypeAdapter

from cubedrill.core.authoring.plan import Card
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.submission import (
    AnySubmission,
    Rows,
    Submission,
)
from cubedrill.core.judging.verdict import Report
from cubedrill.core.values import Identifier, Value

Kept = TypeVar("Kept")
Upgrade = Callable[[Any], Any]
Cell = Annotated[str, StringConstraints(max_length=100)]


class NewerShapeError(Exception):
    """A row was kept by a newer release than this one."""


class SheetDocument(Value):
    """A sheet in progress. cells: what is typed in each field, by object and column; rows: what is complete."""

    conventions: Conventions
    cells: Annotated[dict[Identifier, dict[Identifier, Cell]], Field(max_length=5000, default_factory=dict)]
    rows: Rows = ()


class DocumentSchema(Generic[Kept]):
    """The stored form of one kind of document. whole: defaults are stored too; a later release may change them."""

    def __init__(self, value: Any, *, whole: bool = False, upgrades: tuple[Upgrade, ...] = ()) -> None:
        self._adapter: TypeAdapter[Kept] = TypeAdapter(value)
        self._whole, self._upgrades = whole, upgrades

    @property
    def number(self) -> int:
        """The newest number: that of what is written."""
        return len(self._upgrades) + 1

    def schema(self) -> dict[str, Any]:
        """Return the JSON schema of what is kept."""
        return self._adapter.json_schema()

    def read(self, document: object, number: int) -> Kept:
        """Return a kept document as the value it is today; raise NewerShapeError for one from a newer release."""
        if number > self.number:
            raise NewerShapeError(f"shape {number}, where {self.number} is the newest known")
        for upgrade in self._upgrades[number - 1 :]:
            document = upgrade(document)
        return self._adapter.validate_python(document)

    def written(self, value: Kept) -> Any:
        """Return the document of a value, in the newest shape."""
        return self._adapter.dump_python(value, mode="json", exclude_unset=not self._whole)


EXERCISE: Final[DocumentSchema[Exercise]] = DocumentSchema(Exercise)
CARD: Final[DocumentSchema[Card]] = DocumentSchema(Card)
DRAFT: Final[DocumentSchema[DraftSteps]] = DocumentSchema(DraftSteps)
SHEET: Final[DocumentSchema[SheetDocument]] = DocumentSchema(SheetDocument)
SUBMISSION: Final[DocumentSchema[AnySubmission]] = DocumentSchema(Submission)
REPORT: Final[DocumentSchema[Report]] = DocumentSchema(Report, whole=True)

SHAPES: Final[dict[str, DocumentSchema[Any]]] = {
    "exercise": EXERCISE, "card": CARD, "draft": DRAFT, "sheet": SHEET, "submission": SUBMISSION, "report": REPORT,
}  # fmt: skip
