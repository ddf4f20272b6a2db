"""What one cell of a device's file says: a number, a word that stands for one, or none at all."""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import Decimal

from calibration.kernel.errors import InputError
from calibration.kernel.numbers import parse_decimal
from calibration.kernel.units import UNITS, WRITTEN, convert

#: Headings of a column in which the unit of each row stands.
UNIT_HEADINGS = ("unit", "units", "uom", "dimension")
NOT_FOUND = ("n.d.", "nd", "n.d", "not detected", "none detected")
OPEN = ("ol", "o.l.", "o.l", "overload", "over", "over range", "inf", "open")
GOOD = ("pass", "passed", "ok", "yes", "good", "true")
BAD = ("fail", "failed", "not ok", "no", "bad", "false", "nok")
BOUND = re.compile(r"^([<>])\s*=?\s*(\S+)$")
CLOCK = re.compile(r"^(\d{1,3}):([0-5]\d(?:[.,]\d+)?)$")


@dataclass(frozen=True)
class Said:
    """A value as it goes into a field, and the words that it stood in; empty where it was one."""

    value: str
    words: str = ""


def said(text: str) -> Said:
    """Return what a cell says.

    Not detected, and less than a limit, are none of it: 0. More than a limit is at least that.
    What is open or past the range is no number: the field stays empty, and it is said.

    Raises
    ------
    InputError
        those of a number.
    """
    low = " ".join(text.lower().split())
    if low in NOT_FOUND:
        return Said("0", text)
    if low in OPEN:
        return Said("", text)
    if low in GOOD or low in BAD:
        return Said("1" if low in GOOD else "0", text)
    bound, clock = BOUND.match(text.strip()), CLOCK.match(text.strip())
    if bound:
        least = parse_decimal(bound[2], "file")
        return Said("0" if bound[1] == "<" else format(least, "f"), text)
    if clock:
        seconds = 60 * int(clock[1]) + Decimal(clock[2].replace(",", "."))
        return Said(format(seconds, "f"), text)
    parse_decimal(text, "file")
    return Said(text)


def unit_named(text: str) -> str:
    """Return a unit as it is called here; as it stands where nothing here knows it."""
    low = " ".join(text.lower().split())
    known = next((u for u in UNITS if u.lower() == low), "")
    return text if text in UNITS else WRITTEN.get(low, known or text)


def in_unit(value: str, unit: str, wanted: str) -> str:
    """Return a value of a row in the unit in which it is wanted.

    Raises
    ------
    InputError
        ``unit.unknown``, ``unit.family``.
    """
    if not value or not unit or not wanted or unit == wanted:
        return value
    number = convert(parse_decimal(value, "file"), unit, wanted, "file")
    return f"{number.normalize():f}"


def clock_seconds(found: Said) -> bool:
    """Tell whether a value was a time of minutes and seconds: it is in seconds then."""
    return bool(found.words) and CLOCK.match(found.words.strip()) is not None


def refused(number: int, header: str, text: str, why: InputError) -> InputError:
    """Return the refusal of a cell, with its line and its column."""
    unit = why.code.startswith("unit.")
    what = "is no unit that fits here" if unit else "is no number"
    return InputError(
        "file.unit" if unit else why.code,
        "file",
        f"Line {number}, column '{header}': '{text[:20]}' {what}.",
        "Correct the export, or type this run.",
    )
