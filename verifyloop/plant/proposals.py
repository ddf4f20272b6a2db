"""What an instrument was found to be, where its record says otherwise: a planner decides."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from django.db.models import QuerySet

from calibration.engine.judging.record_mismatch import Difference
from calibration.kernel.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.plant.models import Change, Instrument, Proposal
from verifyloop.plant.selectors import instrument_by_tag
from verifyloop.register.write_lock import writing

#: Columns of the record that may be put right so; other values are settings.
COLUMNS = ("serial", "input_lower", "input_upper", "characteristic", "sensor")


def propose(
    instrument: Instrument, job: str, found: Iterable[Difference], by: str, at: datetime
) -> None:
    """Write down what a signed job found otherwise; once for each value that is on record."""
    known = {*COLUMNS, *(line["name"] for line in instrument.settings)}
    for one in found:
        if one.name not in known:
            continue
        Proposal.objects.get_or_create(
            instrument=instrument,
            job=job,
            field=one.name,
            defaults={
                "label": one.label,
                "before": one.on_record,
                "after": one.found,
                "reason": one.reason,
                "by": by,
                "at": at,
            },
        )


def open_ones() -> QuerySet[Proposal]:
    """Return those that nobody decided yet, oldest first."""
    return Proposal.objects.select_related("instrument").filter(outcome="").order_by("at")


def not_so(instrument: Instrument, field: str) -> set[str]:
    """Return the jobs of which a planner left the record of a field as it is."""
    left = Proposal.objects.filter(instrument=instrument, field=field, outcome="left")
    return set(left.values_list("job", flat=True))


@writing()
def decide(
    *, actor: User, tag: str, proposal: int, take: bool, reason: str, now: datetime
) -> Instrument:
    """Take a value over into the record, or leave the record as it is.

    Raises
    ------
    InputError
        ``proposal.none``, ``reason.missing``.
    """
    require(actor, "instrument.plan")
    instrument = instrument_by_tag(tag)
    found = Proposal.objects.filter(pk=proposal, instrument=instrument, outcome="").first()
    if found is None:
        raise InputError(
            "proposal.none", "proposal", "That was decided already.", "Reload the instrument."
        )
    if not reason.strip():
        raise InputError("reason.missing", "reason", "Say what it was decided by.", "Say why.")
    if take:
        _put(instrument, found.field, found.after)
        Change.objects.create(
            instrument=instrument,
            at=now,
            by=actor.display_name,
            field=found.label[:40],
            before=found.before[:120],
            after=found.after[:120],
            reason=f"{reason.strip()} (found in {found.job})"[:400],
        )
    found.outcome = "taken" if take else "left"
    found.decided_by, found.decided_at = actor.display_name, now
    found.why = reason.strip()[:400]
    found.save()
    return instrument


def _put(instrument: Instrument, name: str, value: str) -> None:
    if name in COLUMNS:
        said = value.replace(" ", "_") if name == "characteristic" else value
        setattr(instrument, name, said)
        instrument.save(update_fields=[name])
        return
    instrument.settings = [
        {**line, "value": value} if line["name"] == name else line for line in instrument.settings
    ]
    instrument.save(update_fields=["settings"])
