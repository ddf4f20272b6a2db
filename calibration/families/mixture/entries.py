"""What one gas adds to a job, whether it may be entered, and how it is said."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from calibration.engine.job.events import Event, ReadingTaken
from calibration.engine.job.history import title_of
from calibration.engine.job.ledger import Ledger, Taken
from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import CHANGING
from calibration.families.mixture.cause_rows import ROWS
from calibration.families.mixture.causes import air_doubt, evidence_of
from calibration.families.mixture.events import Mixed
from calibration.families.mixture.facts import components
from calibration.families.mixture.gases import (
    AFTER,
    Seen,
    end_of,
    seen_of,
    value_of,
    why_not,
)
from calibration.families.mixture.ledger import Move, part_of
from calibration.families.mixture.naming import causes_of
from calibration.families.mixture.words import BEFORE, SUFFIX, Together
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, parse_decimal, to_float
from calibration.kernel.rounding import as_typed, trimmed

#: A value so far outside the range is asked about. [% of range]
BEYOND = Decimal(10)
#: After it was set it shows the gas within this share of the range. [%]
SET_WITHIN = Decimal(2)
POINT = {"zero": 0, "span": 1}


def add_mixed(ledger: Ledger, content: Mixed, event: Event) -> None:
    """Add what was read and set of every component."""
    part, step = part_of(ledger), ledger.method.step(content.step)
    if not isinstance(step, Together):
        return
    judged = ledger.method.judging("found")
    decided = ledger.decided.get(judged.id) if judged is not None else None
    to_change = decided is not None and decided[0].choice in CHANGING
    for n, seen in seen_of(ledger, step, content).items():
        at, applied = POINT[step.gas], value_of(ledger, step.gas, n)
        found, left = f"as_found{SUFFIX[n]}", f"as_left{SUFFIX[n]}"
        if at not in ledger.readings[found]:
            _take(ledger, found, at, applied, seen.before, event)
        if seen.after is not None:
            end = end_of(ledger, step.gas, n)
            part.moves.append(Move(n, end, seen.before, seen.after, event))
            ledger.changes += 1
        if to_change or any(move.channel == n for move in part.moves):
            last = seen.before if seen.after is None else seen.after
            _take(ledger, left, at, applied, last, event)
    part.read[step.id] = event
    ledger.unproven = False


def _take(
    ledger: Ledger, run: str, point: int, applied: Decimal, shown: Decimal, event: Event
) -> None:
    content = ReadingTaken(run=run, point=point, applied=applied, reading=shown)
    ledger.readings[run][point] = Taken(content, event)


def mixed(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse readings that are not due, or a setting that must not be; ask about slips.

    Raises
    ------
    InputError
        ``mixture.not_due``, ``value.missing``, ``set.refused``, ``slip.suspected``.
    """
    content = event.content
    step = job.step(content.step)
    if not isinstance(step, Together) or job.current is not step:
        raise InputError(
            "mixture.not_due",
            "data.step",
            "Nothing is read there now.",
            "Go on with the present step.",
        )
    seen = seen_of(job.ledger, step, content)
    for n, values in seen.items():
        _one(job, step, n, values, content.kept)
    if not content.kept:
        _frozen(job, seen)
        _not_to_be_set(job, step, seen)


def _one(job: Reads, step: Together, n: int, seen: Seen, kept: bool) -> None:
    c = components(job.ledger.facts)[n]
    most = c.upper * BEYOND / HUNDRED
    for value, name in ((seen.before, c.id), (seen.after, c.id + AFTER)):
        if value is not None and not kept and not -most <= value <= c.upper + most:
            raise InputError(
                "slip.suspected",
                f"data.{name}",
                f"{c.label}: {trimmed(value)} {c.unit} is past its range of {trimmed(c.upper)}. "
                "Read right?",
                "Correct it or keep it.",
            )
    if seen.after is None:
        return
    why = why_not(job.ledger, step, n) if not step.again else "it is only looked at here"
    if step.gas == "zero":
        why = why or air_doubt(job, n, seen.before)
    if why:
        raise InputError(
            "set.refused",
            f"data.{c.id}{AFTER}",
            f"{c.label} is not set here: {why}.",
            "Leave it empty; take another gas for it where it must be set.",
        )
    off = abs(seen.after - value_of(job.ledger, step.gas, n))
    if off > c.upper * SET_WITHIN / HUNDRED and not kept:
        raise InputError(
            "slip.suspected",
            f"data.{c.id}{AFTER}",
            f"{c.label}: set, and it shows {trimmed(seen.after)} where "
            f"{trimmed(value_of(job.ledger, step.gas, n))} is in the gas. Keep it?",
            "Correct it or keep it.",
        )


def _not_to_be_set(job: Reads, step: Together, seen: dict[int, Seen]) -> None:
    """Ask where a component is set while the cause lies elsewhere, or is not told: it hides it."""
    if step.gas != "span":
        return
    whole, shown = evidence_of(job), {n: to_float(v.before) for n, v in seen.items()}
    parts = tuple(replace(p, shows=shown[n]) for n, p in enumerate(whole.parts))
    causes = causes_of(replace(whole, parts=parts))
    for n, values in seen.items():
        c = components(job.ledger.facts)[n]
        found = causes.get(c.id, ())
        if values.after is None or not found or (len(found) < 2 and ROWS[found[0].cause].sets):
            continue
        raise InputError(
            "slip.suspected",
            f"data.{c.id}{AFTER}",
            f"{found[0].evidence} That is {' or '.join(label(f.cause) for f in found)}, and "
            "setting would hide it. Set all the same?",
            f"Take all as they are, and find out. {found[0].remedy}",
        )


def label(name: str) -> str:
    """Return a cause as it is said within a sentence."""
    label = ROWS[name].label
    return label[0].lower() + label[1:]


def _frozen(job: Reads, seen: dict[int, Seen]) -> None:
    """Ask where no figure moved since the process: a frozen one is a finished test in hold."""
    noted = job.ledger.recorded
    names = [f"shown{SUFFIX[n]}" for n in seen]
    before = [noted.get((BEFORE, name)) for name in names]
    same = [
        entry is not None and parse_decimal(entry[0], "data") == seen[n].before
        for n, entry in enumerate(before)
    ]
    if len(same) > 1 and all(same):
        raise InputError(
            "slip.suspected",
            f"data.{components(job.ledger.facts)[0].id}",
            "Every figure is exactly what it was in the process: is it in hold, its pump still?",
            "Bring it to its continuous mode, wait until the figures move, and read again.",
        )


def mixed_in_words(ledger: Ledger, c: Mixed) -> str:
    """Return what was read and set as a sentence."""
    step = ledger.method.step(c.step)
    if not isinstance(step, Together):
        return ""
    said = []
    for n, seen in seen_of(ledger, step, c).items():
        own = components(ledger.facts)[n]
        text = f"{own.label.lower()} {as_typed(seen.before)}"
        if seen.after is not None:
            text += f", set to {as_typed(seen.after)}"
        said.append(f"{text} {own.unit}")
    return f"{title_of(ledger.method, c.step)}: " + "; ".join(said)
