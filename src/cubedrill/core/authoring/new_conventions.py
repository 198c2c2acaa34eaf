"""A plan in other conventions: with the same picture, all of it converted, or with the same numbers."""

from __future__ import annotations

from typing import Literal

from cubedrill.core.authoring.plan import Base, Plan
from cubedrill.core.geometry.conventions import Conventions, ConventionTransform
from cubedrill.core.judging.checks import Check
from cubedrill.core.judging.checks.process import ProcessCheck
from cubedrill.core.scene.spaces import converted_pivot, converted_space, within
from cubedrill.core.values import as_vector, vector

Keep = Literal["picture", "numbers"]


def in_conventions(plan: Plan, conventions: Conventions, keep: Keep) -> Plan:
    """Return a plan in other conventions; what the brief says in words stays as it is written."""
    if keep == "numbers":
        return plan.model_copy(update={"conventions": conventions})
    change = ConventionTransform(plan.conventions, conventions)
    after: dict[str, object] = {
        "conventions": conventions,
        "base": _base(plan.base, change),
        "stage": tuple(step.converted(change) for step in plan.stage),
        "checks": tuple(converted_check(check, change) for check in plan.checks),
    }
    if plan.reference is not None:
        after["reference"] = tuple(step.converted(change) for step in plan.reference)
    if plan.target is not None:
        after["target"] = plan.target.converted(change)
    return plan.model_copy(update={name: value for name, value in after.items() if value != getattr(plan, name)})


def _base(base: Base, change: ConventionTransform) -> Base:
    after = {
        "objects": tuple(spec.converted(change) for spec in base.objects),
        "marker": as_vector(change.point(vector(base.marker))),
        "plot": base.plot.converted(change) if base.plot else None,
    }
    return base.model_copy(update={name: value for name, value in after.items() if value != getattr(base, name)})


def converted_check(check: Check, change: ConventionTransform) -> Check:
    """Return the same check in other conventions.

    A side that is asked for along two axes, of which one turns round, cannot be said so: the reference then misses it.
    """
    said = {name: getattr(check, name) for name in type(check).model_fields if getattr(check, name) is not None}
    space = said.get("space")
    inside = change if space is None else within(space, change)
    after: dict[str, object] = {}
    if space is not None:
        after["space"] = converted_space(space, change)
    if "point" in said:
        after["point"] = change.feature(said["point"])
    if "pivot" in said:
        after["pivot"] = converted_pivot(said["pivot"], change)
    if "axis" in said and isinstance(check, ProcessCheck):
        after["axis"] = _letters(said["axis"], inside)
    elif "axis" in said:
        after["axis"] = change.signed_axis(said["axis"])
    if "axes" in said:
        after["axes"] = _letters(said["axes"], inside)
        if "side" in said and all(inside.axis(letter)[1] < 0 for letter in said["axes"]):
            after["side"] = {"min": "max", "max": "min"}[said["side"]]
    factor = _factor(check, change)
    for name in ("tolerance", "distance", "spacing", "of"):
        if name in said:
            after[name] = _scaled(said[name], factor, said.get("axes"), inside)
    return check.model_copy(update={name: value for name, value in after.items() if value != said[name]})


def _letters(axes: str, change: ConventionTransform) -> str:
    return "".join(sorted(change.axis(letter)[0] for letter in axes))


def _factor(check: Check, change: ConventionTransform) -> float:
    """Return the factor for a check's amounts: that of lengths, of angles, or 1 for shares and counts."""
    angle = change.source.radians_per_unit / change.target.radians_per_unit
    match check.kind:
        case "position" | "shape" | "pivot":
            return change.ratio
        case "rotation":
            return angle
        case "relation":
            return angle if check.relation == "faces" else change.ratio
        case "size":
            return change.ratio if check.measure == "length" else 1.0
        case "process":
            return {"rotate": angle, "scale": 1.0}.get(check.op or "", change.ratio)
        case _:
            return 1.0


def _scaled(amount: float | tuple[float, ...], factor: float, axes: str | None, change: ConventionTransform) -> object:
    """Return an amount, or one an axis, which then stand in the order of the new letters."""
    if not isinstance(amount, tuple):
        return amount * factor
    order = sorted(range(len(amount)), key=lambda i: change.axis((axes or "xyz")[i])[0])
    return tuple(amount[i] * factor for i in order)
