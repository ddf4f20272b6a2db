"""Everything that is wrong with a record, each beside its field."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterator, Mapping
from decimal import Decimal
from functools import partial
from typing import Any

from calibration.decisions.tolerance import limit_at
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.method.family import Family
from calibration.kernel.codec import decode, decode_field, is_required
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from calibration.kernel.units import known_unit

#: Facts that are not for a form: what a simulation adds, and limits of single runs.
NOT_ASKED = ("rig", "run_limits", "own")
#: The longest that is kept of each text.
LONGEST = {
    "tag": 40,
    "serial": 60,
    "maker": 60,
    "model": 60,
    "description": 120,
    "area": 80,
    "tolerance_source": 120,
    "input_unit": 20,
    "output_unit": 20,
    "sensor": 10,
}


def every_wrong(cls: type, given: Mapping[str, Any], prefix: str = "") -> list[InputError]:
    """Return what is wrong with each entry of a record, each by itself.

    Parameters
    ----------
    cls : type
        A dataclass whose fields say what is asked.
    given : Mapping
        Plain values by name.

    Returns
    -------
    list of InputError
        ``field.missing``, ``field.unknown``, and what reading a field refuses.
    """
    found: list[InputError] = []
    known = {f.name: f for f in dataclasses.fields(cls)}
    for name, spec in known.items():
        if spec.metadata.get("sweeps"):
            continue
        where = prefix + name
        value = given.get(name)
        if name not in given or value == "" or value is None:
            if is_required(spec):
                found.append(_missing(where))
            continue
        try:
            decode_field(cls, name, value, where)
        except InputError as wrong:
            found.append(wrong)
    for name in given:
        if name not in known:
            found.append(
                InputError(
                    "field.unknown", f"{prefix}{name}"[:120], "Nothing is asked by that name.", ""
                )
            )
    return found


def _missing(field: str) -> InputError:
    return InputError("field.missing", field, "This is missing.", "Fill it in.")


def filled(given: Mapping[str, Any]) -> dict[str, Any]:
    """Return what was filled in; an empty entry is none."""
    return {k: v for k, v in given.items() if v not in ("", None)}


def flat(record: Mapping[str, Any]) -> dict[str, Any]:
    """Return a record as the facts of an instrument are read: what a family adds beside them."""
    own = record.get("own") or {}
    plain = {k: v for k, v in filled(record).items() if k != "own"}
    return {**plain, **filled(own)}


def wrong_with(record: Mapping[str, Any], family: Family) -> list[InputError]:
    """Return everything that is wrong with the record of an instrument of a family.

    Parameters
    ----------
    record : Mapping
        Facts by name as they were typed, what a family adds under ``own``.

    Returns
    -------
    list of InputError
        Those of :func:`every_wrong`, ``text.too_long``, ``field.unknown``; where every entry is
        right by itself what is wrong together: ``range.*``, ``tolerance.empty``, ``unit.spelled``.
    """
    plain = {k: v for k, v in record.items() if k not in NOT_ASKED}
    found = every_wrong(InstrumentFacts, plain)
    found += [
        _too_long(n, most) for n, most in LONGEST.items() if len(str(plain.get(n, ""))) > most
    ]
    own = record.get("own") or {}
    if family.facts is not None:
        found += every_wrong(family.facts, own, "own.")
    elif filled(own):
        found.append(
            InputError("field.unknown", "own", "This kind has no facts of its own.", "Leave them.")
        )
    return found or _together(record, family)


def _too_long(name: str, most: int) -> InputError:
    return InputError("text.too_long", name, "This is too long.", f"Use at most {most} characters.")


def _together(record: Mapping[str, Any], family: Family) -> list[InputError]:
    """Return what is wrong with entries that are right one by one."""
    found: list[InputError] = []

    def tried(work: Callable[[], object], prefix: str = "") -> None:
        try:
            with exact():
                work()
        except InputError as wrong:
            found.append(wrong.within(prefix) if prefix else wrong)

    facts: list[InstrumentFacts] = []
    tried(lambda: facts.append(decode(InstrumentFacts, flat(record))))
    if family.facts is not None:
        own: type = family.facts
        tried(lambda: decode(own, filled(record.get("own") or {})), "own")
    if not facts:
        return found
    tried(lambda: facts[0].transfer)
    if found:
        return found
    tried(lambda: _range(facts[0]))
    tried(lambda: _shown(facts[0]))
    for check in _units(facts[0]):
        tried(check)
    return found


def _range(facts: InstrumentFacts) -> None:
    for end in ("input", "output"):
        lower, upper = getattr(facts, f"{end}_lower"), getattr(facts, f"{end}_upper")
        if lower > upper and facts.output_unit != "V":
            raise InputError(
                "range.reversed",
                f"{end}_upper",
                f"The range is reversed: {lower} to {upper}.",
                "The lower value comes first; change the two.",
            )
    middle = (facts.input_lower + facts.input_upper) / 2
    if limit_at(facts.transfer, facts.tolerance, middle) <= Decimal(0):
        raise InputError(
            "tolerance.empty", "tolerance", "In mid range nothing is allowed.", "Give a limit."
        )


def _shown(facts: InstrumentFacts) -> None:
    given = (facts.indicated_lower is not None, facts.indicated_upper is not None)
    if given[0] != given[1]:
        name = "indicated_upper" if given[0] else "indicated_lower"
        raise InputError(
            "range.half", name, "The control room shows one end only.", "Give both ends, or none."
        )
    if facts.receiver is not None and facts.receiver.output_lower == facts.receiver.output_upper:
        raise InputError(
            "range.zero_width", "indicated_upper", "Both ends are the same.", "Give two values."
        )


def _units(facts: InstrumentFacts) -> Iterator[Callable[[], None]]:
    """Yield a check of each unit: what nothing here knows is a slip, and is named."""
    for name in ("input_unit", "output_unit", "indicated_unit"):
        unit = getattr(facts, name)
        if unit:
            yield partial(known_unit, unit, name)
