"""Which injections agree, which pair counts, and what comes next."""

from __future__ import annotations

from decimal import Decimal

from calibration.analyzers.chromatography import (
    ComponentRuns,
    InjectionsIn,
    InjectionsOut,
    Peak,
    RetentionIn,
    RetentionOut,
    compare,
    retention,
)
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Condition, Step
from calibration.families.chromatograph.events import Injected
from calibration.families.chromatograph.facts import peaks
from calibration.families.chromatograph.ledger import Result, part_of
from calibration.families.chromatograph.words import (
    GAS,
    INJECTIONS,
    PAIRS,
    SUFFIX,
    Group,
    Injection,
)
from calibration.families.shared.contents import value_of
from calibration.families.shared.typed import nothing_else, number
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import to_float

AT = "_s"


def in_gas(ledger: Ledger, n: int) -> Decimal:
    """Return what a component should show in the gas; half its range before it is chosen. [ppm]"""
    peak, chosen = peaks(ledger.facts)[n], ledger.kit.get(GAS)
    if chosen is None:
        return peak.upper / 2
    return value_of(chosen.asset, peak.gas, "ppm")


def seen_of(ledger: Ledger, content: Injected) -> dict[int, Result]:
    """Return what was typed of an injection, by component.

    Raises
    ------
    InputError
        those of a number; ``value.missing``, ``field.unknown``, ``number.negative``.
    """
    found, rest = {}, dict(content.own.values)
    for n, peak in enumerate(peaks(ledger.facts)):
        shows, at = number(rest, peak.id), number(rest, peak.id + AT)
        if shows is None:
            raise InputError(
                "value.missing",
                f"data.{peak.id}",
                f"{peak.label}: what it shows is missing.",
                "Type what it shows; 0 where it does not come.",
            )
        for value, name in ((shows, peak.id), (at, peak.id + AT)):
            if value is not None and value < 0:
                raise InputError(
                    "number.negative",
                    f"data.{name}",
                    f"{peak.label}: {value} is below zero.",
                    "Read it once more.",
                )
        found[n] = Result(shows, at)
    nothing_else(rest)
    return found


def compared(
    ledger: Ledger, settings: Settings, first: dict[int, Result], second: dict[int, Result]
) -> InjectionsOut:
    """Compare two injections, component by component.

    References
    ----------
    :func:`calibration.analyzers.chromatography.compare`.
    """
    return compare(to_compare(ledger, settings, first, second))


def to_compare(
    ledger: Ledger, settings: Settings, first: dict[int, Result], second: dict[int, Result]
) -> InjectionsIn:
    """Return what is asked about two injections."""
    return InjectionsIn(
        limit_percent=to_float(settings.number("agree_percent")),
        components=tuple(
            ComponentRuns(
                name=peak.label.lower(),
                values=(to_float(first[n].shows), to_float(second[n].shows)),
                floor=to_float(peak.floor_ppm),
            )
            for n, peak in enumerate(peaks(ledger.facts))
        ),
    )


def taken(ledger: Ledger) -> dict[int, dict[int, Result]]:
    """Return the injections of the gas in the present round, by their place."""
    kept = part_of(ledger).injections
    return {i: kept[step][0] for i, step in enumerate(INJECTIONS) if step in kept}


def accepted(ledger: Ledger, settings: Settings) -> tuple[int, int] | None:
    """Return the places of the pair that counts; none while no two agree."""
    seen = taken(ledger)
    for a, b in PAIRS:
        if a in seen and b in seen:
            found = compared(ledger, settings, seen[a], seen[b])
            if found.next_action == "accept":
                return a, b
    return None


def times(ledger: Ledger, which: dict[int, Result]) -> RetentionOut | None:
    """Judge the retention of an injection; none where it was not read.

    References
    ----------
    :func:`calibration.analyzers.chromatography.retention`.
    """
    judged = [
        retention(asked)
        for channel in dict.fromkeys(p.channel for p in peaks(ledger.facts))
        if len((asked := to_time(ledger, which, channel)).peaks) > 1
    ]
    # Peaks of different channels are no neighbours: the worst channel speaks for all.
    return next((out for out in judged if not out.within), judged[0] if judged else None)


def to_time(ledger: Ledger, which: dict[int, Result], channel: str | None = None) -> RetentionIn:
    """Return what is asked about the retention of an injection: of peaks that were timed.

    ``channel``: of those of one channel alone; of the first where none is named.
    """
    of = peaks(ledger.facts)[0].channel if channel is None else channel
    found = tuple(
        Peak(
            name=peak.label.lower(),
            expected_s=to_float(peak.expected_s),
            seen_s=to_float(at),
            width_s=to_float(peak.width_s),
        )
        for n, peak in enumerate(peaks(ledger.facts))
        if peak.channel == of and (at := which[n].at_s) is not None and at > 0
    )
    return RetentionIn(peaks=found)


def reads(step: Step) -> tuple[str, ...]:
    """Return the runs that an injection reads, for every component that there may be."""
    if not isinstance(step, Injection):
        return ()
    return tuple(name + suffix for name in run_names(step.group, step.id) for suffix in SUFFIX)


def run_names(group: Group, step: str) -> tuple[str, ...]:
    """Return the names of the runs of a group of injections."""
    if group == "blank":
        return ("blank_again",) if step == "blank_2" else ("blank",)
    return ("as_found",) if group == "found" else ("as_left",)


def _third(job: Reads, step: Step) -> bool:
    seen = taken(job.ledger)
    if 1 not in seen:
        return False
    found = compared(job.ledger, job.settings, seen[0], seen[1])
    return found.next_action != "accept"


def _anew(job: Reads, step: Step) -> bool:
    seen = taken(job.ledger)
    if not _third(job, step) or 2 not in seen:
        return False
    found = compared(job.ledger, job.settings, seen[1], seen[2])
    return found.next_action != "accept"


def _blank_outside(job: Reads, step: Step) -> bool:
    for n, peak in enumerate(peaks(job.ledger.facts)):
        first = job.ledger.readings[f"blank{SUFFIX[n]}"].get(0)
        if first is not None and first.content.reading > peak.blank_ppm:
            return True
    return False


def _pair(job: Reads, step: Step) -> bool:
    return accepted(job.ledger, job.settings) is not None


def _no_pair(job: Reads, step: Step) -> bool:
    return len(INJECTIONS) - 1 in taken(job.ledger) and not _pair(job, step)


NO_PAIR = Condition(_no_pair, "only if none of five agree")
THIRD = Condition(_third, "only if two do not agree")
ANEW = Condition(_anew, "only if three do not agree")
PAIRED = Condition(_pair, "once two agree")
BLANK_OUTSIDE = Condition(_blank_outside, "only if the blank is not clean")
