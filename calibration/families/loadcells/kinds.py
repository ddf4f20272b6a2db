"""Loads on a vessel: weights up and down, substitution, corners."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, replace
from decimal import Decimal

from calibration.decisions.tolerance import Tolerance
from calibration.decisions.uncertainty import Contribution
from calibration.engine.admission.entry_checks import ask_about_slips
from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures, evaluate_run, weighed
from calibration.engine.method.method import RunSpec
from calibration.engine.method.run_kind import columns_known
from calibration.engine.view.columns import Column
from calibration.families.loadcells.evidence import loaded, top_load
from calibration.families.loadcells.facts import vessel, weights
from calibration.families.loadcells.naming import causes_of
from calibration.families.loadcells.tells import FIRST
from calibration.families.loadcells.words import LoadRun
from calibration.families.shared.display import AtDisplay, point
from calibration.families.shared.weights import hung, parts_of, uncertainty_kg
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.kernel.rounding import trimmed
from calibration.runs.points import PlannedPoint

ZERO, HALF = Decimal(0), Decimal("0.5")
LABELS = ("Empty", "Half", "All", "All, held", "Half", "Empty")
SHORT = ("Empty", "All", "Empty")
#: The point at which a load is read again after it stood for its time.
HELD = 3


@dataclass(frozen=True, kw_only=True)
class Signal:
    """What the cells give beside the weight that is shown."""

    mvv: Decimal | None = about("signal of the cells", unit="mV/V", default=None)


class Loads(AtDisplay):
    """Loads that stand on a vessel, one after the other."""

    id = "loads"
    order = "load"
    source = "Hung"
    adds = Signal
    own_columns = {
        "reading": Column("Gross shown", "kg"),
        "mvv": Column("Signal, if read", "mV/V"),
    }
    applies_point = True

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return a point for each load, in the weights that are there."""
        assert isinstance(spec, LoadRun)
        top = top_load(ledger)
        if spec.points == "corners":
            return (point(self._half(ledger, top), facts),) * vessel(ledger.facts).cells
        if spec.points == "substitution":
            count = int(settings.number("loads"))
            steps = (Decimal(k) * top for k in range(count + 1))
            return tuple(point(load, facts) for load in steps if load <= facts.input_upper)
        if spec.points == "short":
            return (point(ZERO, facts), point(top, facts), point(ZERO, facts, "down"))
        half = self._half(ledger, top)
        up = [point(load, facts) for load in (ZERO, half, top, top)]
        return (*up, point(half, facts, "down"), point(ZERO, facts, "down"))

    def _half(self, ledger: Ledger, top: Decimal) -> Decimal:
        """Return about half of a load, as it can be hung. [kg]"""
        own = weights(ledger)
        found = hung(own, top * HALF) if own is not None else None
        return found.out.conventional_kg if found is not None else top

    def kit(self, ledger: Ledger, spec: RunSpec) -> Mapping[str, AssetFacts]:
        """Return nothing: the budget holds the weights as they hang."""
        return {}

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures with a budget of each load, and causes; corners by their mean."""
        assert isinstance(spec, LoadRun)
        own, facts = weights(job.ledger), vessel(job.ledger.facts)
        span = to_float(found.facts.transfer.input_span)

        def parts(at: object) -> tuple[Contribution, ...]:
            applied: Decimal = at.applied  # type: ignore[attr-defined]
            return _parts(own, applied, top_load(job.ledger), facts.step_kg, span)

        if spec.points == "corners":
            return weighed(
                _by_their_mean(job, run, found, facts.corner_percent), job.settings, parts
            )
        found = weighed(found, job.settings, parts)
        if spec.role != "found":
            return replace(found, causes=())
        seen = loaded(job, found) if found.complete else None
        causes = causes_of(seen) if seen is not None else ()
        first = bool(causes) and causes[0].cause in FIRST
        return replace(found, causes=causes, mark="outside" if first else found.mark)

    def admit(self, job: Reads, event: Event, spec: RunSpec, point: PlannedPoint) -> None:
        """Ask about a reading that looks like a slip, or before the load stood for its time."""
        columns_known(self, event.content)
        if event.source == "typed" and not event.content.kept:
            _ask_about_time(job, event, spec)
            ask_about_slips(job, event.content, point.nominal)

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return gross weight and signal of the cells."""
        corners = isinstance(spec, LoadRun) and spec.points == "corners"
        return ("reading",) if corners else ("reading", "mvv")

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the name of a load."""
        assert isinstance(spec, LoadRun)
        if spec.points == "corners":
            return f"Corner {index + 1}"
        if spec.points == "substitution":
            return f"Load {index}" if index else "Empty"
        return (SHORT if spec.points == "short" else LABELS)[index]


def _ask_about_time(job: Reads, event: Event, spec: RunSpec) -> None:
    """Ask about creep that is read before the load stood for its time.

    Raises
    ------
    InputError
        ``slip.suspected``.
    """
    before = job.ledger.readings[spec.id].get(HELD - 1)
    if not isinstance(spec, LoadRun) or spec.points != "up_down" or before is None:
        return
    least = job.settings.number("creep_minutes")
    stood = (event.when - before.event.when).total_seconds() / 60
    if event.content.point == HELD and stood < least:
        raise InputError(
            "slip.suspected",
            "data.reading",
            f"The load stands for {stood:.0f} of {trimmed(least)} min. Keep it?",
            "Wait, or keep it: how long it stood is on the paper.",
        )


def _parts(
    own: AssetFacts | None, load: Decimal, top: Decimal, step_kg: Decimal, span: float
) -> tuple[Contribution, ...]:
    """Return what adds to the uncertainty of a load that is shown. [% of span]

    Loads beyond the weights are substituted: the weights count once for each time they hung, and
    each substitution is read twice. JCGM 100, 5.1.2 and 5.2.2 (what is the same is added).
    """
    times = max(1, round(to_float(load / top))) if top else 1
    found = [
        Contribution(
            name="Step of the display",
            value=100 * to_float(step_kg) * math.sqrt(2 * times - 1) / span,
            kind="resolution",
        )
    ]
    if own is None or load <= 0:
        return tuple(found)
    if times == 1:
        return (*parts_of(own, load, span), *found)
    u = times * to_float(uncertainty_kg(own, top))
    name = f"Weights of {own.asset}, {times} times"
    return (Contribution(name=name, value=100 * u / span, kind="expanded"), *found)


def _by_their_mean(job: Reads, run: str, found: RunFigures, percent: Decimal) -> RunFigures:
    """Return corners held against their mean: how far each is from it, in % of the load."""
    contents = {i: found.taken[i].content for i in found.order}
    mean = sum((c.reading for c in contents.values()), Decimal(0)) / len(contents)
    load = found.plan[0].nominal
    facts = replace(found.facts, tolerance=Tolerance(absolute=load * percent / HUNDRED))
    held = {i: replace(t, content=replace(t.content, applied=mean)) for i, t in found.taken.items()}
    ledger = replace(job.ledger, readings=defaultdict(dict, {run: held}))
    told = evaluate_run(ledger, job.settings, run, facts, found.plan, {})
    return replace(told, taken=found.taken, causes=())


def words(job: Reads, load: Decimal) -> str:
    """Return what hangs for a load, in words."""
    own = weights(job.ledger)
    if own is None or load <= 0:
        return "nothing: empty"
    found = hung(own, load * Decimal("1.0005"))
    return found.words if found is not None else f"{trimmed(load)} kg"


LOADS = Loads()
