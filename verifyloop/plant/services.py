"""Changes to the plan of an instrument."""

from __future__ import annotations

from datetime import date, datetime

from django.db import transaction

from calibration.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.plant.models import Change, Instrument
from verifyloop.plant.selectors import instrument_by_tag


@transaction.atomic
def move_due_date(*, actor: User, tag: str, due: date, reason: str, now: datetime) -> Instrument:
    """Move the due date of an instrument, with a reason that stays on record."""
    require(actor, "instrument.plan")
    instrument = instrument_by_tag(tag)
    if not reason.strip():
        raise InputError(
            "reason.missing", "reason", "Moving a due date takes a reason.", "Say why."
        )
    if due < now.date():
        raise InputError("due.past", "due", "That day is over.", "Choose today or a day to come.")
    Change.objects.create(
        instrument=instrument,
        at=now,
        by=actor.display_name,
        field="next due",
        before=str(instrument.next_due or ""),
        after=str(due),
        reason=reason.strip()[:400],
    )
    instrument.next_due = due
    instrument.due_reason = f"moved by {actor.display_name}: {reason.strip()}"[:160]
    instrument.save(update_fields=["next_due", "due_reason"])
    return instrument
