"""Why a request was refused, as a closed code and one sentence."""

from __future__ import annotations

from typing import Final, Literal

from cubedrill.service.responses import DraftResponse

Code = Literal[
    "signed-out",
    "sign-in-failed",
    "too-many-tries",
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
    "not-only-yours",
    "last-instructor",
    "no-tries-left",
    "judged-already",
    "still-judging",
    "unreadable-roster",
    "name-differs",
]

SENTENCES: Final[dict[Code, str]] = {
    "signed-out": "You are not signed in; sign in and try again.",
    "sign-in-failed": "Name and password do not fit together; check both and try again.",
    "too-many-tries": "There were too many tries to sign in; wait {wait} seconds and try again.",
    "not-found": "There is nothing here that you can open; go back to the start page.",
    "wrong-role": "This page is for {role}s of the class; go back to the start page.",
    "stale-draft": "This work was changed in another window; choose which steps to keep.",
    "stale-sheet": "This sheet was changed in another window; load the page again, and type what is missing.",
    "nothing-typed": "There is no complete row to hand in yet; type all three numbers of a place, a turn or a scale.",
    "too-many-lines": "The text has more than {most} lines; put back fewer.",
    "not-measured": "In this exercise nothing is measured; work it out from the brief and the numbers.",
    "unknown-check": "This submission has no such check; load the page again.",
    "too-many-points": "This check is worth {of} points at most; give no more.",
    "stale-plan": "This plan was changed in another window; load the page again before you publish or convert it.",
    "unsound": "It cannot be published yet: {first}",
    "nothing-there": "Nothing is on the stage yet; add a solid from the rack first.",
    "unreadable-file": "{why}",
    "newer-file": "{name} came after a file that you sent later; the later one is kept.",
    "not-shown": "In this exercise the target is not shown; take away the start or your own work.",
    "already-set": "This version is set for {name} already; choose another class, or change what is set there.",
    "not-yours": "Only {owner}, who made this plan, can do that; copy it to have one of your own.",
    "view-only": "{owner} shared this plan with you to view it; make a copy to change it.",
    "not-invited": "There is no open request to teach this class; ask its instructor to send a new one.",
    "own-work": "This is your own work; another instructor of the class has to review it.",
    "not-open": "It is not open yet; come back when it is, your start page says when.",
    "choose-password": "Choose a password of your own first; then everything opens.",
    "one-time-ended": "This one-time password has ended; ask your instructor for a new one.",
    "wrong-password": "The password that you have now is another one; type it again.",
    "weak-password": "This password is soon guessed. {why}.",
    "sign-in-taken": "The sign-in {sign_in} is somebody else's; choose another.",
    "no-such-code": "This code opens no class, or has ended; ask for the code that holds now.",
    "no-such-zone": "There is no time zone {zone}; choose one from the list.",
    "no-such-time": "{when} does not exist in {zone}, where the clock is put forward; choose another time.",
    "due-before-open": "It would be due before it opens; choose a later date to hand in.",
    "not-only-yours": "{name} is in a class that you do not teach too; only who runs the installation can do that.",
    "last-instructor": "{name} is the only instructor of this class; bring another one in first.",
    "judged-already": "It is being judged again just now; wait until that is through, or cancel it.",
    "still-judging": "It is being judged still; take it over when it is through.",
    "no-tries-left": "All {tries} tries are used; your work is kept, ask your instructor for one more.",
    "unreadable-roster": "{why}",
    "name-differs": "Type the name exactly as it stands there to erase it.",
    "nothing-done": "There is no step to hand in yet; move something first.",
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
