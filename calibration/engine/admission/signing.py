"""What a signature states: one's own work, or that one answers for the work of others."""

from __future__ import annotations

from collections.abc import Iterable

from calibration.engine.job.events import Event
from calibration.engine.job.ledger import Ledger

OWN = "I did this work and recorded it as it was."
#: What a person may add to a job without having measured, set or decided anything in it.
ASIDE = {
    "opened",
    "noted",
    "confirmed",
    "line_failed",
    "recorded",
    "kit_chosen",
    "timer_started",
    "timer_waived",
    "retracted",
    "taken_over",
    "impact",
    "followed_up",
    "lock_hung",
    "lock_taken_off",
    "lock_ended",
    "signed",
    "issued",
    "reviewed",
}


def statement(events: Iterable[Event], account: str) -> str:
    """Return what somebody states by signing a job.

    Parameters
    ----------
    events : iterable of Event
        The entries of the job, in their order.
    account : str
        Name by which the person signs in.

    Who read, set or decided nothing, where others did, answers for their work and says so.
    """
    every = list(events)
    taken_back = {e.data.get("event") for e in every if e.kind == "retracted"}
    work = [e for e in every if e.kind not in ASIDE and e.id not in taken_back]
    others = dict.fromkeys(e.by for e in work if e.account != account)
    if not others or any(e.account == account for e in work):
        return OWN
    return (
        "I answer for this work as responsible. I read, set and decided nothing in it myself: "
        f"{' and '.join(others)} did."
    )


def account_note(ledger: Ledger) -> str:
    """Return what a reader must know of the accounts that signed and reviewed; or nothing."""
    named = (one[0] for one in (ledger.signed, ledger.reviewed) if one is not None)
    said = [f"The account of {c.name}, {c.account_note}" for c in named if c.account_note]
    return " ".join(said)
