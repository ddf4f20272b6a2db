"""What the accepted pair of a job says, and the causes that it points to."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.families.chromatograph.facts import peaks
from calibration.families.chromatograph.injections import accepted, in_gas, taken, times
from calibration.families.chromatograph.naming import Evidence, One, asks, causes_of
from calibration.families.chromatograph.tells import FIELDS
from calibration.families.chromatograph.words import APART
from calibration.kernel.numbers import parse_decimal, to_float
from calibration.runs.causes import Cause


def evidence_of(job: Reads) -> Evidence | None:
    """Return what the accepted pair says; none while no two injections agree."""
    ledger = job.ledger
    pair = accepted(ledger, job.settings)
    if pair is None:
        return None
    one, other = (taken(ledger)[place] for place in pair)
    parts = []
    for n, peak in enumerate(peaks(ledger.facts)):
        value = to_float(in_gas(ledger, n))
        if value:
            parts.append(
                One(
                    id=peak.id,
                    label=peak.label,
                    value=value,
                    shows=to_float((one[n].shows + other[n].shows) / 2),
                    limit=value * to_float(peak.limit_percent) / 100,
                )
            )
    found = times(ledger, other)
    meaning, said = "", ""
    if found is not None and not found.within:
        said = found.advice
        if "moisture" in said:
            meaning = "moisture"
        else:
            meaning = "carrier" if said.startswith("All come") else "single"
    since = ledger.attempts[-1].event.seq if ledger.attempts else 0
    apart = {}
    for name, _, _ in FIELDS.values():
        entry = ledger.recorded.get((APART, name))
        if entry is not None and entry[1].seq > since:
            apart[name] = to_float(parse_decimal(entry[0], f"data.{name}"))
    return Evidence(parts=tuple(parts), times=meaning, said=said, apart=apart)


def named(job: Reads, n: int, figures: RunFigures) -> tuple[Cause, ...]:
    """Return the causes of one component; none while no two injections agree."""
    seen = evidence_of(job) if figures.complete else None
    return causes_of(seen).get(peaks(job.ledger.facts)[n].id, ()) if seen is not None else ()


def wanted(job: Reads) -> str:
    """Return the measurement that would tell causes apart; empty where none would."""
    seen = evidence_of(job)
    return asks(seen) if seen is not None else ""
