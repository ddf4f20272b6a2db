"""Results from before: what an earlier paper says of a check, as a plant brings it along."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any, Literal

from calibration.kernel.codec import about, decode
from calibration.kernel.errors import InputError
from calibration.setup.checking import every_wrong, filled

Said = Literal["within", "outside"]
#: The longest that is kept of each text.
LONGEST = {"tag": 40, "report": 60, "by": 120, "remark": 160}
PERCENT = "% of span"


@dataclass(frozen=True, kw_only=True)
class PastForm:
    """One check of an instrument as its paper says; nothing of it was measured here."""

    tag: str = about("tag of the instrument")
    day: str = about("day of the check, year-month-day")
    report: str = about("number of its paper", default="")
    by: str = about("who did it", default="")
    found_error: Decimal | None = about("largest error as found", unit=PERCENT, default=None)
    left_error: Decimal | None = about(
        "largest error after adjusting; empty where it was left as found",
        unit=PERCENT,
        default=None,
    )
    limit: Decimal | None = about("limit of error at that time", unit=PERCENT, default=None)
    found: Said | None = about("as found it was", default=None)
    left: Said | None = about("as left it was", default=None)
    remark: str = about("what else the paper says", default="")


def wrong_past(record: Mapping[str, Any], today: date) -> list[InputError]:
    """Return everything that is wrong with a result from before, each beside its column.

    Parameters
    ----------
    record : Mapping
        Plain values by name.
    today : date
        No check was done after it.

    Returns
    -------
    list of InputError
        Those of ``every_wrong``, ``text.too_long``; where every entry is right by itself
        ``day.wrong``, ``day.to_come``, ``limit.not_positive``, ``result.empty``,
        ``result.contradicts``.
    """
    found = every_wrong(PastForm, record)
    for name, most in LONGEST.items():
        if len(str(record.get(name) or "")) > most:
            found.append(
                InputError("text.too_long", name, "This is too long.", f"Use at most {most}.")
            )
    return found or _together(decode(PastForm, filled(record)), today)


def _together(past: PastForm, today: date) -> list[InputError]:
    try:
        day = date.fromisoformat(past.day)
        if str(day) != past.day:
            raise ValueError
    except ValueError:
        return [InputError("day.wrong", "day", "That is no day.", "Write it as year-month-day.")]
    if day > today:
        return [InputError("day.to_come", "day", "That day is still to come.", "Check the year.")]
    if past.limit is not None and past.limit <= 0:
        said = "A limit is above zero."
        return [InputError("limit.not_positive", "limit", said, "Give it without a sign.")]
    if past.found_error is None and past.found is None:
        said = "It says nothing of how the instrument was found."
        return [InputError("result.empty", "found_error", said, "Give the error, or within.")]
    return [*_against(past, "found"), *_against(past, "left")]


def _against(past: PastForm, when: str) -> list[InputError]:
    """Return where the words of a paper say better than its figures; worse they may say."""
    error = past.found_error if when == "found" else past.left_error
    said = past.found if when == "found" else past.left
    if error is None or past.limit is None or said != "within" or abs(error) <= past.limit:
        return []
    text = f"{error} % is outside of {past.limit} %, and it says within."
    return [InputError("result.contradicts", when, text, "Look at the paper again.")]


def marks(past: PastForm) -> tuple[str, str]:
    """Return how an instrument was found and left: within, outside, or empty for not known.

    What the paper says in words counts; where it says nothing, its error against its limit does.
    An instrument that was not adjusted was left as it was found.
    """
    found = past.found or _mark(past.found_error, past.limit)
    left = past.left or _mark(past.left_error, past.limit)
    return found, left or (found if past.left_error is None else "")


def _mark(error: Decimal | None, limit: Decimal | None) -> str:
    if error is None or limit is None:
        return ""
    return "within" if abs(error) <= limit else "outside"
