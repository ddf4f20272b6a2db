"""Whether a result still holds, as an answer says it."""

from __future__ import annotations

from typing import Any

from django.utils import timezone
from ninja import Schema

from calibration.kernel.rounding import show
from verifyloop.plant.models import Instrument
from verifyloop.work.auto_checks import log_of
from verifyloop.work.models import OwnAct
from verifyloop.work.result_validity import happenings_of, standing_of


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


class OwnActOut(Schema):
    """One time that a device did something by itself."""

    at: str
    good: bool
    text: str


class OwnLogOut(Schema):
    """What a device does by itself, as its own log says: the last times, and those not good."""

    label: str
    every: str
    count: int
    since: str
    late: bool
    last: list[OwnActOut]
    bad: list[OwnActOut]


def own_log(i: Instrument) -> OwnLogOut | None:
    """Return what an instrument does by itself; none where nothing is known to."""
    log = log_of(i, timezone.now())
    if log is None:
        return None
    return OwnLogOut(
        label=log.label,
        every=f"{show(log.every_minutes, 0)} min",
        count=log.count,
        since=str(timezone.localdate(log.since)) if log.since is not None else "",
        late=log.late,
        last=[_act(a) for a in log.last],
        bad=[_act(a) for a in log.bad],
    )


def _act(act: OwnAct) -> OwnActOut:
    return OwnActOut(at=act.at.isoformat(), good=act.good, text=act.text)


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
