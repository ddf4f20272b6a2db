"""Whether a result still holds, as an answer says it."""

from __future__ import annotations

from typing import Any

from django.utils import timezone
from ninja import Schema

from verifyloop.plant.models import Instrument
from verifyloop.work.standing import happenings_of, standing_of


class StandingOut(Schema):
    """Whether the last result still holds."""

    good: bool
    short: str
    text: str


class HappeningOut(Schema):
    """What anybody may note of an instrument."""

    id: str
    label: str


class HappenedOut(Schema):
    """What somebody noted of it."""

    said: str
    at: str
    by: str


def standing_out(i: Instrument) -> dict[str, Any]:
    """Return whether its last result holds, what may be noted of it, and what was."""
    may = happenings_of(i)
    if not may:
        return {"standing": None, "happenings": [], "happened": []}
    noted = i.happenings.order_by("-at")[:5]
    return {
        "standing": StandingOut.from_orm(standing_of(i, timezone.now())),
        "happenings": [HappeningOut(id=id, label=label) for id, (label, _) in may.items()],
        "happened": [
            HappenedOut(said=may.get(h.what, ("", h.what))[1], at=h.at.isoformat(), by=h.by)
            for h in noted
        ],
    }
