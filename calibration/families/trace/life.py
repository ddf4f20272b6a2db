"""How strong a sensor still is, of a new one, and what the plant keeps of it."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from typing import Any

from calibration.detector.life import Past
from calibration.engine.job.reads import Reads
from calibration.engine.judging.outcome import outcome
from calibration.engine.judging.validity import Course, History
from calibration.engine.method.conditions import renewed
from calibration.families.shared.wearing import worn
from calibration.families.trace.bleeding import noted, pair
from calibration.families.trace.facts import TraceAnalyzer, analyzer
from calibration.families.trace.ledger import part_of
from calibration.families.trace.values import shown
from calibration.families.trace.words import FITTED, OUTLET
from calibration.kernel.codec import decode
from calibration.kernel.numbers import HUNDRED, exact
from calibration.kernel.rounding import fixed


def of_new(job: Reads, run: str) -> Decimal | None:
    """Return the response as found, of a new sensor; none where it is not known. [%]

    It was so much of a new one when its span was set last; since then its reading in span gas has
    gone down with it.
    """
    base = analyzer(job.ledger.facts).response_percent
    spec = job.ledger.method.run(run)
    taken = job.ledger.readings[spec.id]
    if base is None or not taken or spec.role != "found":
        return None
    content = next(iter(taken.values())).content
    return base * shown(job.facts_of(spec.id), content) / content.applied


def months_since_set(job: Reads) -> float | None:
    """Return how long ago its span was set or its sensor fitted; none where nobody knows."""
    own = analyzer(job.ledger.facts)
    since = own.responded_on or own.fitted_on
    if not since:
        return None
    return max(0, (job.now.date() - date.fromisoformat(since)).days) / 30.4


def lines(job: Reads) -> list[dict[str, Any]]:
    """Return what is learnt at a signed job: the response, and how the regulator was left."""
    found: list[dict[str, Any]] = []
    with exact():
        response = of_new(job, job.ledger.method.found.id)
        fresh = renewed(job.ledger) or job.ledger.method.step(FITTED) is not None
        if outcome(job).good and (fresh or (response is not None and part_of(job.ledger).moves)):
            kept = Decimal(100) if fresh else response or HUNDRED
            found.append({"of_new": str(fixed(kept, 1)), "replaced": fresh})
        if outcome(job).good and (fresh or response is not None):
            now = Decimal(100) if fresh else response or HUNDRED
            found.append({"answered": str(fixed(now, 1)), "renewed": fresh})
        left = noted(job.ledger, OUTLET, "left_bar")
        if pair(job.ledger) and left is not None:
            bled = bool(part_of(job.ledger).all_bled)
            found.append({"bled_with": pair(job.ledger), "bled": bled, "left_bar": str(left)})
    return found


def remembered(own: Mapping[str, Any], history: History, today: date) -> dict[str, Any]:
    """Return what is particular to an analyzer, with its sensor and its regulator as known now."""
    found = dict(own)
    for day, entries in history:
        for entry in entries:
            if "of_new" in entry:
                found["response_percent"], found["responded_on"] = entry["of_new"], str(day)
                if entry["replaced"]:
                    found["fitted_on"] = str(day)
            if "bled_with" in entry:
                found["bled_with"], found["left_bar"] = entry["bled_with"], entry["left_bar"]
                if entry["bled"]:
                    found["bled_on"] = str(day)
    return found


def courses(
    own: Mapping[str, Any], history: History, parameters: Mapping[str, str]
) -> tuple[Course, ...]:
    """Return the life of the sensor: what it answered as found, of a new one."""
    past = [
        Past(date=str(day), response=float(e["answered"]), replaced=e["renewed"])
        for day, entries in history
        for e in entries
        if "answered" in e
    ]
    known = decode(TraceAnalyzer, dict(own))
    return (worn("sensor", "Sensor", past, float(known.weak_percent), float(known.spent_percent)),)
