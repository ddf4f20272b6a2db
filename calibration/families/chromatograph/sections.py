"""What a certificate says besides, and what is learnt of a chromatograph."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any

from calibration.engine.files.device_file import typed_over
from calibration.engine.job.reads import Reads
from calibration.engine.judging.outcome import outcome
from calibration.engine.method.family import Drawn
from calibration.families.chromatograph.facts import peaks
from calibration.families.chromatograph.injections import in_gas
from calibration.families.chromatograph.ledger import part_of
from calibration.families.chromatograph.task import VALID, blocks
from calibration.families.chromatograph.validity import FROM
from calibration.families.chromatograph.words import GAS, INJECTIONS, SUFFIX
from calibration.kernel.numbers import HUNDRED, exact
from calibration.kernel.rounding import as_typed, fixed

#: Gas of one filling, with what is vented first. [L]
FILLING_L = 0.1


def sections(job: Reads) -> dict[str, Any]:
    """Return injections, blank and how long it is good; every injection is listed."""
    tables = [
        {
            "title": b.title,
            "columns": list(b.columns),
            "rows": [list(row) for row in b.cells],
            "lines": [b.text] if b.text else [],
        }
        for b in blocks(job)
        if b.kind == "table"
    ]
    own = peaks(job.ledger.facts)
    every = part_of(job.ledger).every
    if every:
        tables.append(
            {
                "title": "Every injection, ppm at s",
                "columns": ["Injection", *(p.label for p in own)],
                "rows": [
                    [
                        title,
                        *(
                            as_typed(seen[n].shows)
                            + (f" at {as_typed(at)}" if (at := seen[n].at_s) is not None else "")
                            for n in range(len(own))
                        ),
                    ]
                    for title, seen, _ in every
                ],
                "lines": [*_filed(job), VALID],
            }
        )
    return {"tables": tables}


def _filed(job: Reads) -> list[str]:
    """Return which injections were read from a file of the device."""
    found = []
    for title, _, event in part_of(job.ledger).every:
        said = typed_over(event.content.read_from, event.content.own.values)
        if said:
            found.append(f"{title}: {said}.")
    return found


def drawn(job: Reads) -> tuple[Drawn, ...]:
    """Return the gas of each filling. [L]"""
    chosen = job.ledger.kit.get(GAS)
    if chosen is None:
        return ()
    return tuple(
        Drawn(chosen.asset.asset, event.when, FILLING_L)
        for title, _, event in part_of(job.ledger).every
        if not title.startswith("Blank")
    )


def aside(job: Reads) -> dict[str, float]:
    """Return the gas that the job may still take: five fillings are the most. [L]"""
    chosen = job.ledger.kit.get(GAS)
    if chosen is None or job.ledger.signed is not None:
        return {}
    filled = len(drawn(job))
    return {chosen.asset.asset: max(0, len(INJECTIONS) - filled) * FILLING_L}


def learnt(job: Reads) -> list[dict[str, Any]]:
    """Return that it is good from today on, and how each component answered."""
    with exact():
        if not outcome(job).good:
            return []
        found: dict[str, str] = {}
        for n, peak in enumerate(peaks(job.ledger.facts)):
            taken = job.ledger.readings[f"as_found{SUFFIX[n]}"].get(0)
            due = in_gas(job.ledger, n)
            if taken is not None and due:
                found[peak.gas] = str(fixed(HUNDRED * taken.content.reading / due, 1))
        # From the last run on: what happens before the signature may end it already.
        last = max(event.when for _, _, event in part_of(job.ledger).every)
        return [
            {
                "responses": found,
                "stored": bool(part_of(job.ledger).stored),
                FROM: last.isoformat(),
            }
        ]


def remembered(
    own: Mapping[str, Any], history: Sequence[tuple[date, Sequence[Mapping[str, Any]]]], today: date
) -> dict[str, Any]:
    """Return what is particular to a chromatograph, with the day of which it is good."""
    found = dict(own)
    for day, entries in history:
        for entry in entries:
            if "responses" in entry:
                found["valid_on"] = str(day)
                said = ", ".join(f"{gas} {share} %" for gas, share in entry["responses"].items())
                found["responses"] = said
    return found
