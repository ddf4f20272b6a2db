"""Finding instruments: by words, area, kind, and how they stand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from django.db.models import Q, QuerySet

from calibration.engine.method.family import FAMILIES
from calibration.kernel.errors import InputError
from verifyloop.errors import Conflict
from verifyloop.plant.models import Area, Instrument, Plan
from verifyloop.plant.words import matching
from verifyloop.register.unchanged import unchanged

#: How far ahead something is due soon.
AHEAD = timedelta(days=14)
#: So many are changed together at most.
MOST = 5000
#: How an instrument may stand, in words.
STATES = {
    "overdue": "Overdue",
    "due": "Due in 14 days",
    "undated": "Without a day",
    "outside": "Left outside",
    "out": "Out of service",
    "unchecked": "No result yet",
}


@dataclass(frozen=True)
class Sought:
    """What is looked for; what is empty leaves everything in."""

    words: str = ""
    area: str = ""
    #: title of a family
    kind: str = ""
    #: one of STATES
    state: str = ""


def sought(what: Sought, today: date) -> QuerySet[Instrument]:
    """Return the instruments that fit, by tag.

    Raises
    ------
    InputError
        ``state.unknown``.
    """
    found = Instrument.objects.select_related("area").prefetch_related("plans").order_by("tag")
    words = what.words.split()[:6]
    keys = matching(words) if words else None
    if keys is not None:
        found, words = found.filter(pk__in=keys), []
    areas = list(Area.objects.values_list("pk", "name")) if words or what.area else []
    for word in words:
        # The few areas are looked through here: a join would look at each instrument's anew.
        inside = [pk for pk, name in areas if word.lower() in name.lower()]
        found = found.filter(
            Q(tag__icontains=word)
            | Q(description__icontains=word)
            | Q(serial__icontains=word)
            | Q(area__in=inside)
        )
    if what.area:
        found = found.filter(area__in=[pk for pk, name in areas if name == what.area])
    if what.kind:
        methods = [m.id for f in FAMILIES.values() if f.title == what.kind for m in f.methods]
        planned = Plan.objects.filter(method__in=methods).order_by().values("instrument")
        found = found.filter(pk__in=planned)
    return _standing(found, what.state, today) if what.state else found


def _standing(found: QuerySet[Instrument], state: str, today: date) -> QuerySet[Instrument]:
    if state == "outside":
        return found.filter(last_mark_left="outside")
    if state == "out":
        return found.filter(out_of_service__isnull=False)
    if state == "unchecked":
        return found.filter(last_on__isnull=True)
    if state == "undated":
        dated = Plan.objects.filter(next_due__isnull=False).order_by().values("instrument")
        return found.filter(out_of_service__isnull=True).exclude(pk__in=dated)
    if state not in STATES:
        known = ", ".join(STATES)
        raise InputError("state.unknown", "state", "Nothing stands like that.", f"One of: {known}.")
    until = Q(next_due__lt=today) if state == "overdue" else Q(next_due__lte=today + AHEAD)
    return found.filter(pk__in=Plan.objects.filter(until).order_by().values("instrument"))


def those(tags: Sequence[str], what: Sought | None, expected: int, today: date) -> list[Instrument]:
    """Return the instruments that are meant, by tag: named one by one, or all that fit.

    ``expected``: how many there were when it was chosen.

    Raises
    ------
    InputError
        ``those.none``, ``those.too_many``, ``instrument.unknown``.
    Conflict
        ``those.changed`` when others fit than when it was chosen.
    """
    every = sought(what or Sought(), today)
    found = list(every if what is not None else every.filter(tag__in=tags))
    if what is None and len(found) != len(set(tags)):
        missing = sorted(set(tags) - {i.tag for i in found})
        said = f"There is no instrument '{missing[0][:40]}'."
        raise InputError("instrument.unknown", "tags", said, "Look again.")
    if not found:
        raise InputError("those.none", "tags", "No instrument is chosen.", "Choose at least one.")
    if len(found) > MOST:
        said = f"{len(found)} instruments are too many at once."
        raise InputError("those.too_many", "tags", said, f"Narrow it down to {MOST}.")
    if len(found) != expected:
        said = f"{len(found)} fit now; {expected} did when you chose."
        raise Conflict("those.changed", said, "Look again.")
    return found


def area_names() -> list[str]:
    """Return the areas in the order of the round."""
    return list(Area.objects.order_by("order", "name").values_list("name", flat=True))


def kinds_there() -> list[str]:
    """Return the titles of the families of which something is planned here."""
    return unchanged("kinds", None, _kinds_there)


def _kinds_there() -> list[str]:
    methods = set(Plan.objects.order_by().values_list("method", flat=True).distinct())
    return sorted(f.title for f in FAMILIES.values() if methods & {m.id for m in f.methods})
