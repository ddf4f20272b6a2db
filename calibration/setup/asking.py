"""What a job on an instrument would ask: one is opened in thought and looked at."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from calibration.decisions.tolerance import limit_at
from calibration.engine.job.events import Opened, make_event
from calibration.engine.job.facts import InstrumentFacts, Parameter
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.method.family import kind_of, newest
from calibration.kernel.codec import encode
from calibration.kernel.numbers import exact
from calibration.kernel.rounding import show, trimmed
from calibration.runs.points import PlannedPoint
from calibration.signals.transfer import ideal_output

NOBODY = "00000000-0000-0000-0000-000000000000"
#: More points than these are not shown; the count says how many there are.
MOST_ROWS = 12


@dataclass(frozen=True, kw_only=True)
class AskedPoint:
    """One point of the first run: what is applied, what ought to be read, and by how much off."""

    label: str
    apply: str
    ideal: str
    limit: str


@dataclass(frozen=True, kw_only=True)
class WillAsk:
    """The first run of a job, and how many steps the job has."""

    run: str
    steps: int
    points: int
    unit_in: str
    unit_out: str
    rows: tuple[AskedPoint, ...]


def in_thought(
    facts: InstrumentFacts, method: str, parameters: Mapping[str, Parameter], now: datetime
) -> Job:
    """Return a job that was opened on an instrument, and on which nothing was done.

    Raises
    ------
    InputError
        ``method.unknown``, and what the family has against the instrument.
    """
    spec = newest(method)
    opened = Opened(
        job="in thought",
        instrument=facts,
        method=spec.id,
        version=spec.version,
        parameters=dict(parameters),
        follows="",
        last_good="",
        asks=True,
    )
    event = make_event(
        id=NOBODY,
        seq=1,
        kind="opened",
        at=now.isoformat(),
        by="",
        role="",
        source="typed",
        data=encode(opened),
    )
    return Job(build(spec, [event]), now)


def _place(point: PlannedPoint, whole: bool) -> str:
    """Return where a point lies; on the whole way with its direction."""
    said = f"{trimmed(point.nominal_percent)} %"
    return f"{said} {point.direction}" if whole else said


def will_ask(job: Job, run: str = "", whole: bool = False) -> WillAsk:
    """Return the points of a run with ideals and limits, as far as they are known now.

    ``run``: the first one where none is given; ``whole``: with the way down, for a paper form.
    """
    method = job.ledger.method
    spec = method.run(run) if run else method.found
    with exact():
        figures = job.figures(spec.id)
        kind, facts = kind_of(job.family, spec), figures.facts
        rows: list[AskedPoint] = []
        for index, point in enumerate(figures.plan):
            if not whole and (len(rows) == MOST_ROWS or point.direction == "down"):
                break
            limit = limit_at(facts.transfer, facts.tolerance, point.nominal)
            rows.append(
                AskedPoint(
                    label=kind.label(job, spec, index) or _place(point, whole),
                    apply=trimmed(kind.target(facts, point)),
                    ideal=show(ideal_output(facts.transfer, point.nominal), 3),
                    limit=show(limit, 3),
                )
            )
    return WillAsk(
        run=kind.title(job, spec),
        steps=len(method.steps),
        points=len(figures.plan),
        unit_in=facts.input_unit,
        unit_out=facts.output_unit,
        rows=tuple(rows),
    )
