"""A run in which the device gives fixed currents: output and receiver without the sensor."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from calibration.engine.job.events import Event
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec
from calibration.families.shared.loop.run import LoopRun
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED
from calibration.kernel.rounding import fixed, trimmed
from calibration.runs.points import PlannedPoint
from calibration.signals.transfer import input_for


class FixedCurrent(LoopRun):
    """Currents given by the device itself; what is applied is the input that they stand for."""

    id = "fixed_current"
    order = "fix"
    applies_point = True
    approached = False
    reads_digital = False

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return the points as the inputs that the currents stand for."""
        return tuple(
            replace(p, nominal=input_for(facts.transfer, self.target(facts, p)), approach=None)
            for p in super().plan(ledger, settings, spec, facts)
        )

    def target(self, facts: InstrumentFacts, point: PlannedPoint) -> Decimal:
        """Return the current that the device is fixed at for a point. [output unit]"""
        span = facts.output_upper - facts.output_lower
        return facts.output_lower + span * point.nominal_percent / HUNDRED

    def admit(self, job: Reads, event: Event, spec: RunSpec, point: PlannedPoint) -> None:
        """Refuse a reading at anything else than the input that the current stands for."""
        if event.content.applied != point.nominal:
            raise InputError(
                "reading.fixed_current",
                "data.applied",
                "In this run the device gives fixed currents; nothing else is applied.",
                f"Send {point.nominal}, which the current stands for.",
            )
        super().admit(job, event, spec, point)

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return meter and control room; what is applied is known."""
        return ("reading", "indicated") if figures.facts.indicated else ("reading",)

    def words(self, facts: InstrumentFacts, point: PlannedPoint) -> str:
        """Return the current."""
        return f"{trimmed(self.target(facts, point))} {facts.output_unit}"

    def equivalent(self, facts: InstrumentFacts, point: PlannedPoint) -> str:
        """Return the input that the current stands for."""
        return f"stands for {trimmed(fixed(point.nominal, 3))} {facts.input_unit}"
