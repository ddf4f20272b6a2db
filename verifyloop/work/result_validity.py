"""Whether the last result of an instrument still holds, and what anybody saw happen to it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from django.db.models import QuerySet
from django.utils import timezone

from calibration.engine.judging.validity import Happened, Signed, Standing
from calibration.engine.method.family import FAMILIES, Family
from calibration.kernel.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.plant.facts import family_of_instrument
from verifyloop.plant.models import Happening, Instrument, Plan
from verifyloop.plant.selectors import instrument_by_tag
from verifyloop.register.unchanged import unchanged
from verifyloop.register.write_lock import writing
from verifyloop.work.side_effects import signed_of

#: Nobody notes what lies further back.
LONGEST = timedelta(days=31)


@dataclass(frozen=True)
class Stands:
    """An instrument whose results hold for a while only, and how it stands."""

    tag: str
    description: str
    standing: Standing


def standing_of(i: Instrument, now: datetime) -> Standing | None:
    """Return whether its last result still holds; none where results hold until they are due."""
    return _standing(i, _family_of(i), signed_of([i.pk]).get(i.pk, []), now)


def all_standing(now: datetime, fresh: int) -> tuple[list[Stands], int]:
    """Return the instruments whose results hold for a while only, and how many are left out.

    ``fresh``: so many are named of which nothing was signed and nothing happened: they all stand
    alike, and a new plant may have hundreds.
    """
    families = {m.id: f for f in FAMILIES.values() if f.validity.happenings for m in f.methods}
    lines, signed, happened = unchanged("standing", None, lambda: _known(tuple(families)))
    local, stands, left = timezone.localtime(now), [], 0
    for pk, tag, description, method in lines:
        if pk not in signed and pk not in happened:
            fresh -= 1
            if fresh < 0:
                left += 1
                continue
        said = (signed.get(pk, []), happened.get(pk, []), local)
        standing = families[method].validity.standing(*said)
        if standing is not None:
            stands.append(Stands(tag, description, standing))
    return stands, left


Lines = list[tuple[int, str, str, str]]


def _known(
    methods: tuple[str, ...],
) -> tuple[Lines, dict[int, list[tuple[datetime, Any]]], dict[int, list[Happened]]]:
    """Return the instruments of some methods, what was signed of them, and what happened."""
    plans = Plan.objects.filter(method__in=methods)
    names = ("instrument_id", "instrument__tag", "instrument__description", "method")
    lines = {line[0]: line for line in plans.order_by("instrument__tag").values_list(*names)}
    if not lines:
        return [], {}, {}
    those = plans.order_by().values("instrument")
    return list(lines.values()), signed_of(those), _happened(those)


def _happened(instruments: QuerySet[Any, Any]) -> dict[int, list[Happened]]:
    """Return what anybody noted, by instrument."""
    found: dict[int, list[Happened]] = {}
    every = Happening.objects.filter(instrument__in=instruments)
    for pk, what, at in every.values_list("instrument_id", "what", "at"):
        found.setdefault(pk, []).append(Happened(what=what, at=at))
    return found


def _standing(
    i: Instrument, family: Family | None, signed: Signed, now: datetime
) -> Standing | None:
    if family is None or not family.validity.happenings:
        return None
    happened = [Happened(what=h.what, at=h.at) for h in i.happenings.all()]
    return family.validity.standing(signed, happened, timezone.localtime(now))


def happenings_of(i: Instrument) -> dict[str, tuple[str, str]]:
    """Return what anybody may note of an instrument: button and words, by name."""
    family = _family_of(i)
    return (
        {h.id: (h.label, h.said) for h in family.validity.happenings} if family is not None else {}
    )


@writing()
def note(*, actor: User, tag: str, what: str, at: str, now: datetime) -> Instrument:
    """Note that something happened to an instrument; anybody who works here may.

    ``at``: local time of the site, as read from its clock; now where it is empty.

    Raises
    ------
    InputError
        ``happening.unknown``, ``time.invalid``, ``time.future``, ``time.too_long_ago``.
    """
    require(actor, "instrument.note")
    instrument = instrument_by_tag(tag)
    if what not in happenings_of(instrument):
        raise InputError(
            "happening.unknown", "what", f"Nothing like that is noted of {tag}.", "Reload the page."
        )
    moment = _moment(at, now)
    Happening.objects.create(
        instrument=instrument, what=what, at=moment, noted_at=now, by=actor.display_name
    )
    return instrument


def _moment(text: str, now: datetime) -> datetime:
    if not text.strip():
        return now
    try:
        moment = datetime.fromisoformat(text.strip()[:40])
    except ValueError:
        raise InputError(
            "time.invalid", "at", f"'{text[:40]}' is no time.", "Write it as 2026-03-01T14:05."
        ) from None
    if moment.tzinfo is None:
        moment = timezone.make_aware(moment)
    if moment > now + timedelta(minutes=1):
        raise InputError("time.future", "at", "That is still to come.", "Say when it was.")
    if moment < now - LONGEST:
        raise InputError(
            "time.too_long_ago", "at", "That is more than a month ago.", "Check day and month."
        )
    return min(moment, now)


def _family_of(i: Instrument) -> Family | None:
    return family_of_instrument(i)
