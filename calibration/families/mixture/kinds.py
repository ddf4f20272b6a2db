"""The run of one component: zero gas and mixture, each with its own limit."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from decimal import Decimal

from calibration.decisions.tolerance import Tolerance
from calibration.decisions.uncertainty import Contribution
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger, Taken
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import WORST, RunFigures
from calibration.engine.method.method import RunSpec
from calibration.engine.method.run_kind import RunKind
from calibration.engine.view.blocks import Mark
from calibration.engine.view.state import Station
from calibration.families.mixture.causes import named
from calibration.families.mixture.facts import components
from calibration.families.mixture.gases import unset, value_of
from calibration.families.mixture.words import GASES, ROLES
from calibration.families.shared.contents import holds
from calibration.families.shared.loop.strip import stations
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.runs.points import PlannedPoint

#: A zero that is set in gas is as good as the gas: a leftover in it. [% of range]
ZERO_GAS_PERCENT = 0.2
#: Pressure of the air since the last setting, temperature since zero. [% of value]
WEATHER_PERCENT = 0.5


class Mixtures(RunKind):
    """Zero gas and mixture, as one component reads them."""

    id = "mixture"
    order = "gas"
    pictured = False
    characterised = False
    applies_point = True

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the analyzer as one of its components."""
        own = components(ledger.facts)
        if spec.channel >= len(own):
            return ledger.facts
        c = own[spec.channel]
        return replace(
            ledger.facts,
            input_unit=c.unit,
            input_lower=Decimal(0),
            input_upper=c.upper,
            output_unit=c.unit,
            output_lower=Decimal(0),
            output_upper=c.upper,
            tolerance=Tolerance(percent_of_span=c.limit_percent),
        )

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return a point for each gas."""
        if spec.channel >= len(components(ledger.facts)):
            return ()
        found = []
        for gas in GASES:
            value = value_of(ledger, gas, spec.channel)
            found.append(
                PlannedPoint(
                    nominal_percent=HUNDRED * value / facts.input_upper,
                    nominal=value,
                    direction="up",
                    cycle=1,
                    approach=None,
                )
            )
        return tuple(found)

    def kit(self, ledger: Ledger, spec: RunSpec) -> Mapping[str, AssetFacts]:
        """Return the gases of the job."""
        return {role: c.asset for role, c in ledger.kit.items() if role in ROLES.values()}

    def counts(self, ledger: Ledger, spec: RunSpec, taken: Taken) -> Decimal:
        """Return what a component would have read, had nothing been set before, as found."""
        if spec.role != "found":
            return taken.content.reading
        return unset(ledger, spec.channel, taken.content.reading, taken.event.seq)

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures with causes; as found counts what was set before it was read."""
        found = self._beyond(found)
        if spec.role != "found":
            return replace(found, causes=())
        return replace(found, causes=named(job, spec.channel, found))

    def _beyond(self, figures: RunFigures) -> RunFigures:
        """Return figures in which a gas past the range of a component judges nothing."""
        top = figures.facts.input_upper
        marks: tuple[Mark, ...] = tuple(
            "none" if figures.taken[i].content.applied > top else mark
            for i, mark in zip(figures.order, figures.marks, strict=True)
        )
        return replace(figures, marks=marks, mark=max(marks, key=lambda m: WORST[m]))

    def title(self, job: Reads, spec: RunSpec) -> str:
        """Return the title, with the component."""
        own = components(job.ledger.facts)
        if spec.channel >= len(own):
            return spec.title
        return f"{spec.title}, {own[spec.channel].label.lower()}"

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return what is typed: the display."""
        return ("reading",)

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the gas of a point."""
        return ("Zero gas", "Mixture")[index]

    def in_input(self, facts: InstrumentFacts) -> bool:
        """Tell that errors are said in the unit of the component."""
        return True

    def stations(
        self, job: Reads, spec: RunSpec, figures: RunFigures, index: int, figure: str
    ) -> tuple[Station, ...]:
        """Return the strip from the cylinder to the display."""
        content = figures.taken[index].content
        found = stations(figures.facts, content.applied, None, content.reading, None, figure)
        names = {"applied": self.label(job, spec, index), "output": "Cell and display"}
        return tuple(replace(s, label=names.get(s.id, s.label)) for s in found)


def of_mixture(
    facts: InstrumentFacts, asset: AssetFacts, applied: Decimal
) -> tuple[Contribution, ...]:
    """Return what a mixture adds at a component: its own part, pressure since. [% of range]

    The part is found by its value in the unit of the component.
    """
    top = to_float(facts.input_upper)
    per_unit = 1.0 if facts.input_unit == "% vol" else 10_000.0
    for part in holds(asset).parts:
        percent = part.value if part.unit == "% vol" else part.value / 10_000
        value = to_float(percent) * per_unit
        if applied and abs(value - to_float(applied)) < 1e-6 * max(1.0, value):
            share = 100 * value / top
            return (
                Contribution(
                    name=f"{part.gas.capitalize()} in {asset.asset}",
                    value=share * to_float(part.uncertainty_percent) / 100,
                    kind="expanded",
                ),
                Contribution(
                    name="Pressure and temperature",
                    value=share * WEATHER_PERCENT / 100,
                    kind="limit",
                ),
            )
    return ()


def of_zero_gas(
    facts: InstrumentFacts, asset: AssetFacts, applied: Decimal
) -> tuple[Contribution, ...]:
    """Return what a zero gas adds: what may be left in it. [% of range]"""
    found = of_mixture(facts, asset, applied)
    return found or (Contribution(name="Zero gas", value=ZERO_GAS_PERCENT, kind="limit"),)


MIXTURES = Mixtures()
