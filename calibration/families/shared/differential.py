"""One more measurement that tells causes apart: asked for where it would tell, before any remedy.

It is asked for anew after the test was repeated; what was measured before says nothing of it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Condition, Field, Step
from calibration.families.shared.parts import CANNOT_MEASURE
from calibration.kernel.numbers import parse_decimal, to_float

APART = "tell_apart"


@dataclass(frozen=True, kw_only=True)
class Telling:
    """One measurement: its field, and which of two causes it speaks for."""

    id: str
    label: str
    unit: str
    tells: str


def told(ledger: Ledger) -> dict[str, float]:
    """Return what was measured to tell causes apart, of the test as it is taken now."""
    since = ledger.attempts[-1].event.seq if ledger.attempts else 0
    return {
        name: to_float(parse_decimal(value, f"data.{name}"))
        for (step, name), (value, event) in ledger.recorded.items()
        if step == APART and event.seq > since
    }


def step(why: str, wanted: Callable[[Reads], tuple[Telling, ...]]) -> Step:
    """Return the step that asks for it, only where causes look alike and nothing was changed."""

    def alike(job: Reads, of: Step) -> bool:
        return bool(told(job.ledger)) or (not job.ledger.changes and bool(wanted(job)))

    return Step(
        id=APART,
        stage="found",
        kind="record",
        title="Tell the causes apart",
        instruction="More than one cause looks like this. One more measurement tells.",
        why=why,
        only_if=Condition(alike, "only if causes look alike"),
        anew="round",
        if_not=CANNOT_MEASURE,
    )


def fields(
    job: Reads, known: Mapping[str, Telling], wanted: tuple[Telling, ...]
) -> tuple[Field, ...]:
    """Return a field for each measurement that was made or would tell."""
    there = [known[name] for name in told(job.ledger) if name in known]
    ways = (*there, *(w for w in wanted if w not in there))
    return tuple(
        Field(id=w.id, label=w.label, kind="number", unit=w.unit, hint=w.tells) for w in ways
    )


def before_judging(steps: tuple[Step, ...], tell: Step) -> tuple[Step, ...]:
    """Return the steps with the one that tells causes apart before the judgement."""
    at = next(n for n, s in enumerate(steps) if s.judges == "found")
    return (*steps[:at], replace(tell, stage=steps[at - 1].stage), *steps[at:])
