"""Ids and counts in addresses and bodies: bounded, so that none is larger than the database takes."""

from __future__ import annotations

from typing import Annotated, Final

from fastapi import Path
from pydantic import Field

from cubedrill.core.values import LARGEST_COUNT, Count

LARGEST_ID: Final = LARGEST_COUNT

Id = Annotated[int, Field(ge=1, le=LARGEST_ID)]
RowId = Annotated[Count, Field(ge=1)]

AssignmentId = Annotated[int, Path(ge=1, le=LARGEST_ID)]
ClassId = Annotated[int, Path(alias="class", ge=1, le=LARGEST_ID)]
FileId = Annotated[int, Path(ge=1, le=LARGEST_ID)]
PersonId = Annotated[int, Path(ge=1, le=LARGEST_ID)]
PlanId = Annotated[int, Path(ge=1, le=LARGEST_ID)]
RecheckId = Annotated[int, Path(ge=1, le=LARGEST_ID)]
StudentId = Annotated[int, Path(ge=1, le=LARGEST_ID)]
SubmissionId = Annotated[int, Path(ge=1, le=LARGEST_ID)]
VersionId = Annotated[int, Path(ge=1, le=LARGEST_ID)]
