"""How long a calibration holds, and how each component answered over the years."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

from calibration.detector.life import Past
from calibration.engine.judging.validity import (
    Course,
    Happened,
    Happening,
    History,
    Signed,
    Standing,
)
from calibration.families.shared.wearing import trend

OFF = "switched_off"
HAPPENINGS = (Happening(id=OFF, label="It was switched off", said="switched off"),)
#: An entry of what was learnt that says from when a calibration holds.
FROM = "good_from"


def standing(signed: Signed, happened: Sequence[Happened], now: datetime) -> Standing:
    """Return whether its last calibration holds: from its last run to power-off or local midnight.

    ``now`` is in the zone of the site; so is every moment that is compared.
    """
    since = None
    for at, entries in signed:
        for entry in entries:
            if "responses" in entry:
                since = datetime.fromisoformat(entry[FROM]) if FROM in entry else at
    if since is None:
        return _gone("not calibrated yet", "It was not calibrated yet.")
    since = since.astimezone(now.tzinfo)
    ended = [h.at.astimezone(now.tzinfo) for h in happened if h.what == OFF and h.at >= since]
    if ended:
        first = min(ended)
        said = f"switched off {first:%Y-%m-%d %H:%M}"
        return _gone(said, f"It was {said}: the calibration of before ended with that.")
    if since.date() != now.date():
        said = f"last calibrated {since:%Y-%m-%d %H:%M}"
        return _gone(said, f"It was {said}, and that ended at midnight.")
    return Standing(
        good=True,
        short="good until midnight",
        text=f"Calibrated at {since:%H:%M}: good until it is switched off, or until midnight.",
    )


def _gone(short: str, why: str) -> Standing:
    return Standing(good=False, short=short, text=f"{why} Calibrate it before the next sample.")


def courses(
    own: Mapping[str, Any], history: History, parameters: Mapping[str, str]
) -> tuple[Course, ...]:
    """Return the response of each component as found, of the very first one.

    A response that was stored is the one against which the next visit is read.
    """
    found = []
    for peak in own.get("peaks", ()):
        past, stored = [], 100.0
        for day, entries in history:
            for entry in entries:
                share = entry.get("responses", {}).get(peak["gas"])
                if share is None:
                    continue
                now = stored * float(share) / 100
                past.append(Past(date=str(day), response=round(now, 2)))
                stored = now if entry["stored"] else stored
        found.append(trend(peak["id"], peak["label"], past))
    return tuple(found)
