"""What an injection adds to a job, whether it may be entered, and how it is said."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.files.device_file import not_read_before, typed_over
from calibration.engine.job.events import Event, ReadingTaken
from calibration.engine.job.history import title_of
from calibration.engine.job.ledger import Ledger, Taken
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.families.chromatograph.events import Injected, Stored
from calibration.families.chromatograph.facts import peaks
from calibration.families.chromatograph.injections import accepted, in_gas, seen_of, taken
from calibration.families.chromatograph.ledger import Result, part_of
from calibration.families.chromatograph.words import SUFFIX, Injection, Storing
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED
from calibration.kernel.rounding import as_typed, trimmed

#: Components whose values lie so far from their order are asked about: rows were swapped. [times]
SWAPPED = Decimal(4)


def add_injected(ledger: Ledger, content: Injected, event: Event) -> None:
    """Add an injection; the mean of the first pair that agrees is as found."""
    part, step = part_of(ledger), ledger.method.step(content.step)
    if not isinstance(step, Injection):
        return
    seen = seen_of(ledger, content)
    part.injections[step.id] = (seen, event)
    part.every.append((step.title, seen, event))
    if step.group == "blank":
        name = "blank_again" if step.id == "blank_2" else "blank"
        _take(ledger, name, {n: r.shows for n, r in seen.items()}, event, Decimal(0))
    elif step.group == "left":
        _take(ledger, "as_left", {n: r.shows for n, r in seen.items()}, event)
        ledger.unproven = False
    else:
        pair = accepted(ledger, Settings(ledger.method, ledger.opened))
        if pair is not None and not ledger.readings["as_found"]:
            one, other = (taken(ledger)[place] for place in pair)
            means = {n: (one[n].shows + other[n].shows) / 2 for n in one}
            _take(ledger, "as_found", means, event)


def _take(
    ledger: Ledger,
    run: str,
    values: dict[int, Decimal],
    event: Event,
    applied: Decimal | None = None,
) -> None:
    for n, value in values.items():
        name, due = run + SUFFIX[n], in_gas(ledger, n) if applied is None else applied
        if applied is None and not due:
            continue  # the gas holds none of it: nothing is judged by it
        content = ReadingTaken(run=name, point=0, applied=due, reading=value)
        ledger.readings[name][0] = Taken(content, event)


def add_stored(ledger: Ledger, content: Stored, event: Event) -> None:
    """Store the new response: that changes the device."""
    part_of(ledger).stored[content.step] = event
    ledger.changes += 1


def injected(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse an injection that is not due; ask about rows that look swapped.

    Raises
    ------
    InputError
        ``injection.not_due``, ``file.read_before``, ``value.missing``, ``slip.suspected``.
    """
    content = event.content
    step = job.step(content.step)
    if not isinstance(step, Injection) or job.current is not step:
        raise InputError(
            "injection.not_due",
            "data.step",
            "No injection is due there now.",
            "Go on with the present step; each injection has its own leak test before it.",
        )
    not_read_before(
        content.read_from, ((title, e.content) for title, _, e in part_of(job.ledger).every)
    )
    seen = seen_of(job.ledger, content)
    if not content.kept:
        _in_order(job, seen)
        if step.group != "blank":
            _not_swapped(job, seen)


def _in_order(job: Reads, seen: dict[int, Result]) -> None:
    """Ask about retention times that do not follow the order of the components."""
    own = peaks(job.ledger.facts)
    last, name = Decimal(0), ""
    for n, result in seen.items():
        if result.at_s is None or not result.at_s:
            continue
        if result.at_s <= last:
            raise InputError(
                "slip.suspected",
                f"data.{own[n].id}_s",
                f"{own[n].label} at {trimmed(result.at_s)} s comes before {name}: are rows "
                "swapped? Keep it?",
                "Correct it or keep it.",
            )
        last, name = result.at_s, own[n].label.lower()


def _not_swapped(job: Reads, seen: dict[int, Result]) -> None:
    """Ask about a value that fits another component of the gas and not its own."""
    own = peaks(job.ledger.facts)
    for n, result in seen.items():
        due = in_gas(job.ledger, n)
        if not due or not result.shows:
            continue
        far = result.shows > due * SWAPPED or result.shows * SWAPPED < due
        other = next(
            (m for m in seen if m != n and (g := in_gas(job.ledger, m)) and _near(result.shows, g)),
            None,
        )
        if far and other is not None:
            raise InputError(
                "slip.suspected",
                f"data.{own[n].id}",
                f"{own[n].label} {trimmed(result.shows)} ppm fits {own[other].label.lower()} of "
                "this gas: are rows swapped? Keep it?",
                "Correct it or keep it.",
            )


def _near(value: Decimal, due: Decimal) -> bool:
    return abs(value - due) * 100 <= due * 15


def stored(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse to store a response that is not due.

    Raises
    ------
    InputError
        ``store.not_due``.
    """
    step = job.step(event.content.step)
    if not isinstance(step, Storing) or job.current is not step:
        raise InputError(
            "store.not_due", "data.step", "Nothing is stored there now.", "Go on with the step."
        )


def injected_in_words(ledger: Ledger, c: Injected) -> str:
    """Return an injection as a sentence."""
    own = peaks(ledger.facts)
    said = ", ".join(
        f"{own[n].label.lower()} {as_typed(r.shows)}" for n, r in seen_of(ledger, c).items()
    )
    filed = typed_over(c.read_from, c.own.values)
    return f"{title_of(ledger.method, c.step)}: {said} ppm{', ' + filed if filed else ''}"


def stored_in_words(ledger: Ledger, c: Stored) -> str:
    """Return that a response was stored as a sentence."""
    return f"{title_of(ledger.method, c.step)}: the mean of the pair is its new response"


def percent_of(value: Decimal, due: Decimal) -> Decimal:
    """Return a value in % of what is due."""
    return HUNDRED * value / due
