"""What each gas is to each component: zero, span or nothing; whether it may be set, and how."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.engine.job.facts import AssetFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import CHANGING
from calibration.engine.method.method import Condition, Step
from calibration.families.mixture.events import Mixed
from calibration.families.mixture.facts import Component, components, share_of_range, value_in
from calibration.families.mixture.ledger import part_of
from calibration.families.mixture.words import ROLES, SUFFIX, Gas, Together
from calibration.families.shared.typed import nothing_else, number
from calibration.kernel.errors import InputError
from calibration.kernel.rounding import show, trimmed

AFTER = "_after"
End = Literal["zero", "span", "none"]


@dataclass(frozen=True)
class Seen:
    """What was read of one component. [its unit]"""

    before: Decimal
    after: Decimal | None = None


def chosen(ledger: Ledger, gas: Gas) -> AssetFacts | None:
    """Return the cylinder that gives a gas; none while none is chosen."""
    found = ledger.kit.get(ROLES[gas])
    return found.asset if found is not None else None


def value_of(ledger: Ledger, gas: Gas, n: int) -> Decimal:
    """Return what a component should read in a gas; before it is chosen, a usual value."""
    c, asset = components(ledger.facts)[n], chosen(ledger, gas)
    if asset is None:
        return Decimal(0) if gas == "zero" else c.upper * Decimal("0.8")
    return value_in(asset, c)


def end_of(ledger: Ledger, gas: Gas, n: int) -> End:
    """Return what a gas is to a component: its span, its zero, or nothing.

    A zero gas that is air is the span of oxygen; its zero is then what the mixture lacks.
    """
    if value_of(ledger, gas, n) > 0:
        return "span"
    if gas == "zero" or value_of(ledger, "zero", n) > 0:
        return "zero"
    return "none"


def why_not(ledger: Ledger, step: Together, n: int) -> str:
    """Return why a component is not set in a gas; empty where it may be."""
    c, end = components(ledger.facts)[n], end_of(ledger, step.gas, n)
    if end == "none":
        return f"no {c.gas} in this mixture"
    if end == "zero":
        return ""
    share = share_of_range(value_of(ledger, step.gas, n), c)
    if not c.set_from <= share <= c.set_to:
        return (
            f"{show(share, 0)} % of its range; its window is {trimmed(c.set_from)} to "
            f"{trimmed(c.set_to)} %"
        )
    return ""


def may_set(ledger: Ledger, step: Together, n: int) -> bool:
    """Tell whether a component may be set in a gas."""
    return not step.again and not why_not(ledger, step, n)


def seen_of(ledger: Ledger, step: Together, content: Mixed) -> dict[int, Seen]:
    """Return what was typed, by component.

    Raises
    ------
    InputError
        those of a number; ``value.missing``, ``field.unknown``.
    """
    found, rest = {}, dict(content.own.values)
    for n, c in enumerate(components(ledger.facts)):
        before, after = number(rest, c.id), number(rest, c.id + AFTER)
        if before is None:
            raise InputError(
                "value.missing",
                f"data.{c.id}",
                f"{c.label}: what it shows is missing.",
                "Type what it shows; every component is read in every gas.",
            )
        found[n] = Seen(before, after)
    nothing_else(rest)
    return found


def reads(step: Step) -> tuple[str, ...]:
    """Return the runs that a step reads, for every component that there may be."""
    names = ("as_found", "as_left") if isinstance(step, Together) else ()
    return tuple(name + suffix for name in names for suffix in SUFFIX)


def made(job: Reads, step: Step) -> bool:
    """Tell whether a gas was read since it was last decided that it is to be set."""
    last = part_of(job.ledger).read.get(step.id)
    if last is None:
        return False
    judged = job.ledger.method.judging("found")
    decided = job.ledger.decided.get(judged.id) if judged is not None else None
    again = decided is not None and decided[0].choice in CHANGING
    return not again or decided is None or last.seq > decided[1].seq


def unset(ledger: Ledger, n: int, seen: Decimal, before: int) -> Decimal:
    """Return what a component would have shown had nothing been set so far. [its unit]"""
    for move in reversed(part_of(ledger).moves):
        if move.channel == n and move.event.seq < before:
            if move.end == "zero":
                seen += move.before - move.after
            elif move.after:
                seen *= move.before / move.after
    return seen


def touched(job: Reads) -> bool:
    """Tell whether anything was set, put right, or is to be."""
    return job.ledger.changes > 0 or job.chosen() in CHANGING


def standing_runs(job: Reads) -> tuple[str, ...]:
    """Return the run by which each component stands: as left where it was read, else as found."""
    names = []
    for n in range(len(components(job.ledger.facts))):
        left = f"as_left{SUFFIX[n]}"
        names.append(left if job.ledger.readings[left] else f"as_found{SUFFIX[n]}")
    return tuple(n for n in names if job.ledger.readings[n])


def _outside(job: Reads) -> bool:
    steps = [s for s in job.ledger.method.steps if isinstance(s, Together) and not s.again]
    if not all(made(job, s) for s in steps):
        return False
    return any(job.figures(name).mark == "outside" for name in standing_runs(job))


def _was_set(job: Reads, step: Step) -> bool:
    return bool(part_of(job.ledger).moves)


WAS_SET = Condition(_was_set, "only if something was set")
OUTSIDE_UNTOUCHED = Condition(
    lambda job, step: _outside(job) and not job.ledger.changes,
    "only if a component reads outside and nothing was set",
)
OUTSIDE_AFTERWARDS = Condition(
    lambda job, step: _outside(job) and touched(job),
    "only if a component is still outside afterwards",
)


def named(c: Component) -> str:
    """Return a component with its unit, as a row is called."""
    return f"{c.label}, {c.unit}"
