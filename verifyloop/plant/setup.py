"""The record of an instrument as it is typed: read, checked, stored, with every change noted."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, fields
from datetime import date, datetime
from typing import Any

from django.utils import timezone

import calibration.families  # noqa: F401  # registers them
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.sealing import canonical
from calibration.engine.method.family import Family, fitting, newest
from calibration.kernel.codec import decode, encode
from calibration.kernel.errors import InputError
from calibration.setup.checking import NOT_ASKED, filled, flat, wrong_with
from calibration.setup.forms import family_of_method
from verifyloop import form_values
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.errors import Conflict
from verifyloop.plant.facts import facts_of
from verifyloop.plant.models import Area, Instrument
from verifyloop.plant.plans import noted
from verifyloop.plant.selectors import instrument_by_tag
from verifyloop.plant.services import FURTHEST
from verifyloop.register.write_lock import writing

#: What of a record is a plan, and not of the instrument itself.
PLANNED = ("method", "next_due")
#: What is kept beside a family's own facts, and stays when they are changed.
BESIDE = ("run_limits",)


@dataclass(frozen=True)
class Known:
    """What there is, read once for many records."""

    tags: frozenset[str]
    areas: frozenset[str]


class Refused(InputError):
    """A record that is not stored, with everything that is wrong with it."""

    def __init__(self, wrong: list[InputError]) -> None:
        first = wrong[0]
        super().__init__(first.code, first.field, first.message, first.remedy)
        self.wrong = wrong


def record_of(instrument: Instrument) -> dict[str, Any]:
    """Return the record of an instrument as its form shows it."""
    facts = encode(facts_of(instrument, rig=False))
    family = family_of_method(instrument.plan.method)
    own_names = {f.name for f in fields(family.facts)} if family.facts is not None else set()
    plain = {f.name for f in fields(InstrumentFacts)} - set(NOT_ASKED)
    found = {k: v for k, v in facts.items() if k in plain and v is not None}
    own = {k: v for k, v in instrument.own.items() if k in own_names}
    return {**found, **({"own": own} if own else {}), "caution": instrument.caution}


def version_of_record(instrument: Instrument) -> str:
    """Return a short mark of a record as it is: another one says that it was changed."""
    return hashlib.sha256(canonical(record_of(instrument)).encode()).hexdigest()[:16]


def wrong_record(
    record: Mapping[str, Any], family: Family, tag: str = "", known: Known | None = None
) -> list[InputError]:
    """Return everything that is wrong with a record, the plant around it included.

    ``tag``: of the instrument that is changed; empty for a new one. ``known``: tags and areas,
    where they were read already.
    """
    plain = {k: v for k, v in record.items() if k not in (*PLANNED, "caution")}
    found = wrong_with(plain, family)
    named = str(record.get("tag", "")).strip()
    tags = known.tags if known is not None else Instrument.objects.filter(tag=named)
    taken = named in tags if isinstance(tags, frozenset) else tags.exists()
    if named and named != tag and taken:
        found.append(InputError("tag.taken", "tag", f"{named} is there already.", "Tags are once."))
    area = str(record.get("area", ""))
    areas = known.areas if known is not None else Area.objects.filter(name=area)
    if area and not (area in areas if isinstance(areas, frozenset) else areas.exists()):
        found.append(
            InputError("area.unknown", "area", f"There is no area '{area[:40]}'.", "Make it first.")
        )
    if len(str(record.get("caution") or "")) > 240:
        found.append(InputError("text.too_long", "caution", "It is too long.", "Use at most 240."))
    return found


def wrong_plan(record: Mapping[str, Any], today: date) -> list[InputError]:
    """Return what is wrong with the plan of a record that is right otherwise."""
    found: list[InputError] = []
    offered = [id for id, _ in fitting(decode(InstrumentFacts, flat(facts_alone(record))))]
    method = str(record.get("method") or "")
    if method not in offered:
        title = newest(method).title if method else "No method"
        named = ", ".join(newest(m).title for m in offered) or "none: look at units and settings"
        found.append(
            InputError(
                "method.does_not_fit",
                "method",
                f"{title}: does not fit what is on record.",
                f"What fits: {named}.",
            )
        )
    try:
        due = form_values.day(str(record.get("next_due") or ""), "next_due", "First due")
        if not today <= due <= today + FURTHEST:
            raise InputError(
                "due.past", "next_due", f"{due} is over, or too far.", "Choose a day to come."
            )
    except InputError as wrong:
        found.append(wrong)
    return found


def facts_alone(record: Mapping[str, Any]) -> dict[str, Any]:
    """Return a record without what is planned and said beside it."""
    return {k: v for k, v in record.items() if k not in (*PLANNED, "caution")}


def as_stored(
    record: Mapping[str, Any], before: Mapping[str, Any], area: Area | None = None
) -> dict[str, Any]:
    """Return a right record as it is stored; ``before``: what a family keeps beside its form."""
    facts = decode(InstrumentFacts, flat(facts_alone(record)))
    said = encode(facts)
    own = filled(record.get("own") or {})
    kept = {k: v for k, v in before.items() if k in BESIDE}
    columns = {
        name: said[name] if said[name] is not None else ""
        for name in said
        if name not in (*NOT_ASKED, "area", *facts.own.values)
    }
    terms = {k: v for k, v in said["tolerance"].items() if v not in ("0", None)}
    return {
        **columns,
        "tolerance": {k: v for k, v in terms.items() if (k, v) != ("combine", "sum")},
        "own": {**kept, **own},
        "area": area or Area.objects.get(name=said["area"]),
        "caution": str(record.get("caution") or "").strip(),
    }


@writing()
def create_instrument(
    *, actor: User, base: str, record: Mapping[str, Any], now: datetime
) -> Instrument:
    """Enter a new instrument with its first plan; ``base``: a method of its kind.

    Raises
    ------
    Refused
        with everything that is wrong.
    """
    require(actor, "plant.setup")
    made = entered(base, record, timezone.localdate(now))
    note_change(made, actor, now, "record", "", "set up", "new instrument")
    return made


def entered(base: str, record: Mapping[str, Any], today: date) -> Instrument:
    """Enter an instrument as recorded, and its plan; nothing is noted.

    Raises
    ------
    Refused
        with everything that is wrong.
    """
    wrong = wrong_record(record, family_of_method(base))
    wrong += [] if wrong else wrong_plan(record, today)
    if wrong:
        raise Refused(wrong)
    return Instrument.objects.planned(
        method=str(record["method"]),
        next_due=date.fromisoformat(str(record["next_due"])),
        due_reason="first time",
        **as_stored(record, {}),
    )


@writing()
def change_instrument(
    *,
    actor: User,
    tag: str,
    record: Mapping[str, Any],
    version: str,
    reason: str,
    now: datetime,
) -> Instrument:
    """Change the record of an instrument; every field that changes is noted with why.

    Raises
    ------
    Conflict
        ``version.old`` when somebody else changed it since it was read.
    Refused
        with everything that is wrong.
    """
    require(actor, "plant.setup")
    instrument = instrument_by_tag(tag)
    if version_of_record(instrument) != version:
        raise Conflict(
            "version.old",
            f"Somebody else changed {tag} meanwhile.",
            "Open it again beside this page; what you typed stays here.",
        )
    why = form_values.reason(reason)
    return changed(instrument, record, actor, why, now)


def changed(
    instrument: Instrument, record: Mapping[str, Any], actor: User, why: str, now: datetime
) -> Instrument:
    """Store a changed record and note each field that differs.

    Raises
    ------
    Refused
        with everything that is wrong.
    """
    family = family_of_method(instrument.plan.method)
    wrong = wrong_record(record, family, instrument.tag)
    if wrong:
        raise Refused(wrong)
    before = record_of(instrument)
    for name, value in as_stored(record, instrument.own).items():
        setattr(instrument, name, value)
    instrument.save()
    after = record_of(instrument)
    for name in sorted({*before, *after}):
        if before.get(name) != after.get(name):
            said = (_as_text(before.get(name)), _as_text(after.get(name)))
            note_change(instrument, actor, now, name.replace("_", " "), *said, why)
    return instrument_by_tag(instrument.tag)


def _as_text(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return value if isinstance(value, str) else "" if value is None else canonical(value)


def note_change(
    instrument: Instrument,
    actor: User,
    now: datetime,
    field: str,
    before: str,
    after: str,
    why: str,
) -> None:
    noted(instrument, actor, now, field, before, after or "nothing", why).save()
