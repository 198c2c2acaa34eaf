"""Errors of the core: a closed code, facts, and one sentence for people."""

from __future__ import annotations

from typing import Final

# One sentence a code. `{who}` and the like are the facts given where the error is raised.
SENTENCES: Final[dict[str, str]] = {
    "aim-own-pivot": "{name} would aim at its own pivot, which gives no direction; choose another point.",
    "aim-along-axis": "{name} or the way it should point lies along the axis it may turn about; choose another axis.",
    "axis-zero": "The axis has no length and so no direction; give at least one number other than 0.",
    "bad-matrix": "The matrix of {object} must end in the row 0 0 0 1; give 16 numbers column by column.",
    "check-object": "Check {check} names {object}, which is not in the target scene; name one of its objects.",
    "copy-ids": "{copies} of {objects} need {wanted} new ids, but {given} are given; give one for each copy.",
    "direction-zero": "The direction to aim along has no length; give at least one number other than 0.",
    "chosen-known": "The object {object} already has its own id; match only added objects.",
    "chosen-twice": "The object {object} was matched to two objects; match it to one.",
    "duplicate-id": "The id {object} is used twice; give each object its own id.",
    "flat-axis": "{name} is flat along {axis} and has no size there to set; leave that size out.",
    "id-taken": "The object {object} already exists; give the new one another id.",
    "kind-not-offered": "This exercise offers no step of the kind {op}; use {offered}.",
    "line-zero": "The line's two points coincide, so it has no direction; choose two points that lie apart.",
    "locked": "{name} is locked; select another object.",
    "no-box": "{name} has no solid in it and so no box; name its pivot instead.",
    "no-reference": "The exercise has neither a target nor reference steps; give one of them.",
    "no-solid": "{name} is an assembly and has no surface of its own; choose a solid in it.",
    "not-invertible": "{name} would be flattened; keep every size above zero.",
    "normal-zero": "The surface's normal has no length; give at least one number other than 0.",
    "parent-loop": "{object} would be its own ancestor; choose another parent.",
    "put-on-itself": "{name} cannot be put on itself or on what is in it; choose another surface.",
    "quaternion-length": "The rotation of {object} is a quaternion of length {length}; it must be 1.",
    "scale-zero": "A factor of 0 would flatten {name}; use a factor other than 0.",
    "skewed-turn": "{name} is skewed and has no angles of its own in {space} to set; rotate it by an angle instead.",
    "swing-coincide": "The two points {points} coincide, so there is no line to swing; choose points that lie apart.",
    "swing-along-axis": "The line {points} lies along the axis and cannot swing about it; choose another axis.",
    "too-few-sides": "A round solid needs at least {fewest} sides; give a larger number.",
    "too-large": "{name} would become too large or move too far away; use smaller numbers.",
    "too-many-made": "The steps would make more than {objects} objects, or meshes of more than {vertices} points; "
    "make fewer copies.",
    "too-much-work": "The steps act on more than {most} objects, each counted with every step; use fewer steps.",
    "unknown-object": "There is no object {object} in the scene; use the id of an object in the scene.",
    "unknown-parent": "The parent {parent} of {object} is not in the scene; use an object in the scene, or none.",
    "unread-because": "“{rest}” cannot be read; {why}.",
    "unread-end": "It is incomplete; it could continue with {what}.",
    "unread-from": "“{rest}” cannot be read; expected {what}.",
    "view-parallel": "The view's right and up lie along one line or have no length; give two directions that differ.",
}


class CoreError(Exception):
    """A request that cannot be carried out; nothing was changed.

    code: a key of SENTENCES. facts: what fills its sentence; `object` is an id, `name` what people call it.
    step: counted from 1 where a step is to blame.
    """

    def __init__(self, code: str, **facts: object) -> None:
        self.code = code
        self.facts = facts
        self.step: int | None = None
        super().__init__(code)

    def at_step(self, number: int) -> CoreError:
        """Return this error with the number of the step that met it."""
        self.step = number
        return self

    @property
    def object(self) -> str | None:
        """The id of the object concerned, where there is one."""
        named = self.facts.get("object")
        return None if named is None else str(named)

    @property
    def text(self) -> str:
        """One sentence: where, what, what to do."""
        sentence = SENTENCES[self.code].format(**{"name": self.object, **self.facts})
        return sentence if self.step is None else f"Step {self.step}: {sentence}"

    def __str__(self) -> str:
        return self.text
