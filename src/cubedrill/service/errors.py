"""Why a request was refused, as a closed code and one sentence."""

from __future__ import annotations

from typing import Final, Literal

from cubedrill.service.responses import DraftResponse

Code = Literal[
    "signed-out",
    "sign-in-failed",
    "too-many-sign-ins",
    "not-found",
    "wrong-role",
    "stale-draft",
    "nothing-done",
    "unknown-check",
    "too-many-points",
    "stale-sheet",
    "nothing-typed",
    "not-measured",
    "too-many-lines",
    "stale-plan",
    "unsound",
    "not-yours",
    "view-only",
    "not-invited",
    "own-work",
    "already-set",
    "nothing-there",
    "unreadable-file",
    "newer-file",
    "not-shown",
    "not-open",
    "choose-password",
    "one-time-ended",
    "wrong-password",
    "weak-password",
    "sign-in-taken",
    "no-such-code",
    "no-such-zone",
    "no-such-time",
    "due-before-open",
    "late-cost",
    "late-floor",
    "no-weight",
    "class-archived",
    "copy-row",
    "no-such-place",
    "no-reason",
    "no-such-calendar",
    "not-only-yours",
    "last-instructor",
    "no-attempts-left",
    "judged-already",
    "still-judging",
    "unreadable-roster",
    "name-differs",
]

SENTENCES: Final[dict[Code, str]] = {
    "signed-out": "You are not signed in. Sign in and try again.",
    "sign-in-failed": "Wrong username or password. Check both and try again.",
    "too-many-sign-ins": "Too many failed sign-ins. Wait {wait} seconds and try again.",
    "not-found": "Page not found, or you have no access to it. Go to the start page.",
    "wrong-role": "This page is for {role}s of the class. Go to the start page.",
    "stale-draft": "This work was changed in another window. Choose which steps to keep.",
    "stale-sheet": "This sheet was changed in another window. Reload the page and type what is missing.",
    "nothing-typed": "No row is complete yet. Type all three numbers of a translation, a rotation or a scale.",
    "too-many-lines": "The text has more than {most} lines. Use fewer.",
    "not-measured": "Measuring is off in this exercise. Use the brief and the numbers.",
    "unknown-check": "This submission has no such check. Reload the page.",
    "too-many-points": "This check is worth at most {of} points. Give no more.",
    "stale-plan": "This plan was changed in another window. Reload the page before you publish or convert it.",
    "unsound": "Not ready to publish: {first}",
    "nothing-there": "The stage is empty. Add a solid from the rack first.",
    "unreadable-file": "{why}",
    "newer-file": "{name} arrived after a file that you sent later. The later file is kept.",
    "not-shown": "The target of this exercise is hidden. Download the start or your own work.",
    "already-set": "This version is already assigned to {name}. Choose another class, or change that assignment.",
    "not-yours": "Only {owner}, the owner of this plan, can do that. Make a copy instead.",
    "view-only": "{owner} shared this plan with you for viewing. Make a copy to change it.",
    "not-invited": "There is no open request to teach this class. Ask its instructor for a new one.",
    "own-work": "This is your own work. Another instructor of the class must review it.",
    "not-open": "This exercise is not open yet. Your start page shows opening date.",
    "choose-password": "Choose a password of your own first.",
    "one-time-ended": "This one-time password has expired. Ask your instructor for a new one.",
    "wrong-password": "The current password is wrong. Type it again.",
    "weak-password": "This password is too weak. {why}.",
    "sign-in-taken": "The username {sign_in} is taken. Choose another.",
    "no-such-code": "This code is wrong or has expired. Ask your instructor for the current code.",
    "no-such-zone": "Unknown time zone {zone}. Choose one from the list.",
    "no-such-time": "{when} does not exist in {zone}, because the clocks go forward. Choose another time.",
    "late-cost": "Late work must cost more than 0% and at most 100% of the mark per day. Change that number.",
    "late-floor": "Late work cannot keep more than 100% of its mark. Choose a lower share to keep at least.",
    "due-before-open": "The due date is before the opening date. Choose a later due date.",
    "no-weight": "The weights add up to 0. Give at least one assignment a weight above 0.",
    "class-archived": "The class {name} is archived. Its instructor can reopen it.",
    "copy-row": "{title}: {why}",
    "no-such-calendar": "This calendar address is no longer valid. Copy the current one from your account page.",
    "no-reason": "Students see why a mark was changed. Write a reason.",
    "no-such-place": "This submission has no such check, object or step. Reload the page.",
    "not-only-yours": "{name} is also in a class that you do not teach. Ask the administrator of the installation.",
    "last-instructor": "{name} is the only instructor of this class. Add another instructor first.",
    "judged-already": "Re-check in progress. Wait, or cancel it.",
    "still-judging": "Re-check in progress. Apply it when it is finished.",
    "no-attempts-left": "All {attempts} attempts are used. Your work is saved. Ask your instructor for another.",
    "unreadable-roster": "{why}",
    "name-differs": "Type the name exactly as shown to erase it.",
    "nothing-done": "There are no steps to submit yet. Move something first.",
}


class RefusedError(Exception):
    """A request that the rules of the product refuse; nothing was changed.

    newer: the draft as it stands, where the one sent was out of date.
    """

    def __init__(self, code: Code, newer: DraftResponse | None = None, **facts: object) -> None:
        self.code = code
        self.newer = newer
        self.text = SENTENCES[code].format(**facts)
        self.facts = facts
        super().__init__(self.text)
