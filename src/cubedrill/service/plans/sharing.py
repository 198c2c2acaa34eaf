"""Sharing a plan with the instructors of a class, or with one person: to view it, or to edit it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from cubedrill.service.access import Right, own_plan
from cubedrill.service.errors import RefusedError
from cubedrill.service.plans.responses import ShareResponse, SharingResponse
from cubedrill.store.people import accounts as people
from cubedrill.store.people import classes
from cubedrill.store.plans import plans
from cubedrill.store.tables import Person, PlanShare


@dataclass(frozen=True)
class Share:
    """One share of a plan: with a class or with a person."""

    right: Right
    class_id: int | None = None
    person_id: int | None = None


def sharing_of(db: Session, person: Person, plan_id: int) -> SharingResponse:
    """Return the shares of a plan to its owner; raise RefusedError "not-yours"."""
    plan = own_plan(db, person, plan_id)
    taught = {each.id: each.name for each in classes.classes_taught(db, person.id)}
    shares = plans.shares_of(db, [plan.id])
    known = plans.colleagues(db, person.id) - {person.id}
    names = people.names_of(db, {*known, *(share.person_id for share in shares if share.person_id is not None)})
    class_names = classes.names_of(db, [share.class_id for share in shares if share.class_id is not None])
    return SharingResponse(
        shares=tuple(
            ShareResponse(
                class_id=share.class_id,
                person=share.person_id,
                name=class_names[share.class_id] if share.class_id is not None else names[share.person_id or 0],
                right="edit" if share.right == "edit" else "view",
            )
            for share in shares
        ),
        classes=tuple(ShareResponse(class_id=i, person=None, name=name, right="view") for i, name in taught.items()),
        people=tuple(
            ShareResponse(class_id=None, person=i, name=names[i], right="view")
            for i in sorted(known, key=names.__getitem__)
        ),
    )


def share(db: Session, person: Person, plan_id: int, wanted: Sequence[Share]) -> None:
    """Replace the shares of a plan.

    Raises RefusedError "not-yours", or "not-found" for a class that the owner does not teach, or a person who teaches
    none of these classes. An existing share may always stay.
    """
    plan = own_plan(db, person, plan_id)
    before = plans.shares_of(db, [plan.id])
    allowed_classes = {each.id for each in classes.classes_taught(db, person.id)} | {s.class_id for s in before}
    allowed_people = (plans.colleagues(db, person.id) - {person.id}) | {s.person_id for s in before}
    for each in wanted:
        if each.class_id not in allowed_classes | {None} or each.person_id not in allowed_people | {None}:
            raise RefusedError("not-found")
    rows = [PlanShare(plan_id=plan.id, class_id=e.class_id, person_id=e.person_id, right=e.right) for e in wanted]
    plans.replace_shares(db, plan.id, rows)
