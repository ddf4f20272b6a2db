"""The runs of a belt scale: whole revolutions, and loads of material."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import replace
from decimal import Decimal

from calibration.decisions.tolerance import Tolerance
from calibration.decisions.uncertainty import Contribution
from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures, evaluate_run, weighed
from calibration.engine.method.method import RunSpec
from calibration.engine.method.run_kind import columns_known
from calibration.engine.view.blocks import Mark
from calibration.engine.view.columns import Column
from calibration.families.belt.events import Truck, Turn
from calibration.families.belt.evidence import (
    carried,
    counts_of,
    held_against,
    mean_u,
    moved,
    net_kg,
    old,
    turned,
)
from calibration.families.belt.facts import belt, noted, truck_scale, turns
from calibration.families.belt.naming import causes_carried, causes_of
from calibration.families.belt.words import FOUND, SPAN_RUNS, ZERO_RUNS, TurnsRun
from calibration.families.shared.display import UNMARKED, AtDisplay, no_better, point
from calibration.kernel.codec import read
from calibration.kernel.distributions import coverage_factor
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.kernel.rounding import show
from calibration.runs.points import PlannedPoint

#: So far from a whole revolution it is asked about, and refused. [share]
ASKED, REFUSED = Decimal("0.03"), Decimal("0.15")
#: A gross count past this is a slip. [share of what is expected]
SLIP = Decimal("0.2")
WEIGHTS = {"zero": "Empty", "span": "Weights"}


class Turns(AtDisplay):
    """Whole revolutions of the belt, each counted from mark to mark."""

    id = "whole_turns"
    order = "turn"
    source = "Held against"
    adds = Turn
    own_columns = {
        "reading": Column("Counts of it", "counts"),
        "seconds": Column("It took", "s", needed=True, tap=True),
    }
    applies_point = True

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the scale as it counts; its limit in counts of the span."""
        assert isinstance(spec, TurnsRun)
        own = belt(ledger.facts)
        span = noted(ledger, FOUND, "span_count") or own.span_count or Decimal(10_000)
        zero = noted(ledger, FOUND, "zero_count") or own.zero_count or Decimal(0)
        limit = own.zero_limit_percent if spec.of == "zero" else own.span_limit_percent
        top = 2 * (abs(zero) + span)
        return replace(
            ledger.facts,
            input_unit="counts",
            input_lower=Decimal(0),
            input_upper=top,
            output_unit="counts",
            output_lower=Decimal(0),
            output_upper=top,
            tolerance=Tolerance(absolute=span * limit / HUNDRED),
            tolerance_source="its manual",
        )

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return a point for each whole revolution."""
        assert isinstance(spec, TurnsRun)
        nominal = held_against(ledger, spec)
        return (point(nominal, facts),) * turns(ledger.facts).revolutions

    def kit(self, ledger: Ledger, spec: RunSpec) -> Mapping[str, AssetFacts]:
        """Return nothing: it is held against its own last counts."""
        return {}

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures by the mean of all revolutions; a first run is not judged."""
        assert isinstance(spec, TurnsRun)
        top = to_float(found.facts.transfer.input_span)
        counts = counts_of(job, run)
        part = Contribution(
            name=f"Scatter of {len(counts)} revolutions",
            value=100 * mean_u(counts) / top,
            kind="expanded",
        )
        found = weighed(found, job.settings, lambda p: (part,))
        mark = self._mark(job, spec, run)
        seen = turned(job) if spec.role == "found" else None
        causes = causes_of(seen) if seen is not None else ()
        if causes and causes[0].cause == "idler_stuck":
            mark = "outside"
        if spec.baseline:
            return replace(found, mark=mark, marks=UNMARKED * len(found.marks), causes=causes)
        return no_better(found, mark, causes)

    def _mark(self, job: Reads, spec: TurnsRun, run: str) -> Mark:
        runs = (run, SPAN_RUNS[0]) if spec.of == "zero" else (ZERO_RUNS[0], run)
        out = moved(job, *runs)
        name = f"{spec.of}_count"
        if out is None or old(job, run, name) is None:
            return "none"
        good = out.zero_accepted if spec.of == "zero" else out.span_accepted
        if good is None:
            return "none"
        return "within" if good else "outside"

    def admit(self, job: Reads, event: Event, spec: RunSpec, point: PlannedPoint) -> None:
        """Refuse part of a revolution; ask about one that took too long or too short.

        Raises
        ------
        InputError
            ``turn.partial``, ``slip.suspected``, ``number.range``.
        """
        columns_known(self, event.content)
        seconds = read(Turn, event.content.own, "data").seconds
        whole = turns(job.ledger.facts).one_revolution_s
        if seconds is None or seconds <= 0:
            raise InputError(
                "number.range", "data.seconds", "Its time is missing.", "Take it mark to mark."
            )
        off = abs(seconds / whole - 1)
        said = f"It took {seconds:f} s; a revolution takes {show(whole, 1)} s."
        if off > REFUSED:
            raise InputError(
                "turn.partial",
                "data.seconds",
                f"{said} That is no whole revolution, and a belt is uneven.",
                "Count from mark to mark, or put the belt's length and speed right.",
            )
        if event.source != "typed" or event.content.kept:
            return
        if off > ASKED:
            raise InputError(
                "slip.suspected", "data.seconds", f"{said} Keep it?", "Correct it or keep it."
            )
        expected = point.nominal
        if expected and abs(event.content.reading / expected - 1) > SLIP:
            raise InputError(
                "slip.suspected",
                "data.reading",
                f"{event.content.reading:f} counts; {show(expected, 0)} are expected. Keep it?",
                "Correct it or keep it.",
            )

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return counts and time."""
        return ("reading", "seconds")

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the number of the revolution."""
        assert isinstance(spec, TurnsRun)
        return f"{WEIGHTS[spec.of]} {index + 1}"


class Material(AtDisplay):
    """Loads of material, weighed on a truck scale."""

    id = "material"
    order = "load"
    source = "Truck"
    adds = Truck
    own_columns = {
        "applied": Column("Truck full", "kg"),
        "empty": Column("Truck empty", "kg", needed=True),
        "reading": Column("Belt scale counted", "kg"),
        "moist_belt": Column("Moisture on the belt, if it matters", "%"),
        "moist_truck": Column("Moisture on the truck", "%"),
    }

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the scale as a counter of mass."""
        own = belt(ledger.facts)
        return replace(
            ledger.facts,
            input_unit="kg",
            input_lower=Decimal(0),
            input_upper=Decimal(60_000),
            output_unit="kg",
            output_lower=Decimal(0),
            output_upper=Decimal(60_000),
            tolerance=Tolerance(percent_of_reading=own.material_limit_percent),
            tolerance_source="its manual",
        )

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return as many loads as the site wants."""
        return (point(Decimal(20_000), facts),) * int(settings.number("loads"))

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures by the mean of all loads, against what really went over the belt."""
        masses = {
            i: replace(t, content=replace(t.content, applied=net_kg(t.content)))
            for i, t in found.taken.items()
        }
        ledger = replace(job.ledger, readings=defaultdict(dict, {run: masses}))
        net = evaluate_run(ledger, job.settings, run, found.facts, found.plan, {})
        u = self._u_percent(job, net)
        span = to_float(found.facts.input_upper)

        def parts(at: object) -> tuple[Contribution, ...]:
            load = to_float(at.applied)  # type: ignore[attr-defined]
            name = f"Truck scale and {len(found.order)} loads"
            return (Contribution(name=name, value=u * load / span, kind="expanded"),)

        judged = weighed(net, job.settings, parts)
        found = replace(judged, taken=found.taken, left_out=found.left_out)
        if not found.complete:
            return replace(found, mark="none", marks=UNMARKED * len(found.marks))
        seen = carried(job, found, u)
        mark: Mark = "outside" if abs(seen.error) > seen.limit else "within"
        causes = causes_carried(seen) if spec.role == "found" else ()
        return no_better(found, mark, causes)

    def _u_percent(self, job: Reads, net: RunFigures) -> float:
        """Return U of the mean error: two weighings a load, and the scatter of the loads. [%]"""
        loads = [to_float(net.taken[i].content.applied) for i in net.order]
        chosen = next(iter(job.ledger.kit.values()), None)
        own = to_float(truck_scale(chosen.asset).uncertainty_kg) if chosen is not None else 0.0
        mean = sum(loads) / len(loads)
        scale = 100 * own * math.sqrt(2) / mean if mean > 0 else 0.0
        if len(loads) < 2 or net.result is None:
            return scale
        errors = [100 * to_float(p.error) / to_float(p.applied) for p in net.result.points]
        middle = sum(errors) / len(errors)
        s = math.sqrt(sum((e - middle) ** 2 for e in errors) / (len(errors) - 1))
        scatter = coverage_factor(len(errors) - 1, 0.95) * s / math.sqrt(len(errors))
        return math.hypot(scale, scatter)

    def admit(self, job: Reads, event: Event, spec: RunSpec, point: PlannedPoint) -> None:
        """Refuse a load that is none; ask about one that is far off.

        Raises
        ------
        InputError
            ``number.range``, ``moisture.one_missing``, ``slip.suspected``.
        """
        columns_known(self, event.content)
        own = read(Truck, event.content.own, "data")
        if own.empty is None or own.empty < 0 or own.empty >= event.content.applied:
            raise InputError(
                "number.range",
                "data.empty",
                "Empty the truck is lighter than full.",
                "Read both weighings again.",
            )
        if (own.moist_belt is None) != (own.moist_truck is None):
            raise InputError(
                "moisture.one_missing",
                "data.moist_belt" if own.moist_belt is None else "data.moist_truck",
                "One of the two moistures is missing.",
                "Give both, or none.",
            )
        for name in ("moist_belt", "moist_truck"):
            value = getattr(own, name)
            if value is not None and not 0 <= value < 90:
                raise InputError(
                    "number.range", f"data.{name}", "Moisture is 0 to 90 %.", "Read it again."
                )
        off = abs(event.content.reading / net_kg(event.content) - 1)
        if event.source == "typed" and not event.content.kept and off > SLIP:
            raise InputError(
                "slip.suspected",
                "data.reading",
                f"Belt and truck are {100 * off:.0f} % apart. Keep it?",
                "Correct it or keep it.",
            )

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return both weighings, what was counted, and moisture."""
        return ("applied", "empty", "reading", "moist_belt", "moist_truck")

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the number of the load."""
        return f"Load {index + 1}"


TURNS, MATERIAL = Turns(), Material()
