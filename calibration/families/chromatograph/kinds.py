"""The run of one component: the mean of the pair, the check after storing, the blank."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from decimal import Decimal

from calibration.decisions.tolerance import Tolerance
from calibration.decisions.uncertainty import Contribution
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec
from calibration.engine.method.run_kind import RunKind
from calibration.engine.view.state import Station
from calibration.families.chromatograph.causes import evidence_of, named
from calibration.families.chromatograph.facts import peaks
from calibration.families.chromatograph.injections import in_gas
from calibration.families.chromatograph.words import GAS
from calibration.families.shared.contents import holds
from calibration.families.shared.loop.strip import stations
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.runs.points import PlannedPoint

#: Volume, pressure and temperature of an injection, one point for the whole line. [% of value]
VOLUME_PERCENT, LINE_PERCENT = 1.0, 0.5


class Injected(RunKind):
    """One component of a chromatograph."""

    id = "injected"
    order = "inject"
    pictured = False
    characterised = False
    applies_point = True

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the chromatograph as one of its components."""
        own = peaks(ledger.facts)
        if spec.channel >= len(own):
            return ledger.facts
        peak = own[spec.channel]
        blank = spec.role == "check"
        limit = (
            Tolerance(absolute=peak.blank_ppm)
            if blank
            else Tolerance(
                combine="greatest", percent_of_reading=peak.limit_percent, absolute=peak.floor_ppm
            )
        )
        return replace(
            ledger.facts,
            input_unit="ppm",
            input_lower=Decimal(0),
            input_upper=peak.upper,
            output_unit="ppm",
            output_lower=Decimal(0),
            output_upper=peak.upper,
            tolerance=limit,
        )

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return the gas, or clean air; nothing for a component that is not in the gas."""
        if spec.channel >= len(peaks(ledger.facts)):
            return ()
        value = Decimal(0) if spec.role == "check" else in_gas(ledger, spec.channel)
        if spec.role != "check" and not value:
            return ()
        return (
            PlannedPoint(
                nominal_percent=HUNDRED * value / facts.input_upper,
                nominal=value,
                direction="up",
                cycle=1,
                approach=None,
            ),
        )

    def kit(self, ledger: Ledger, spec: RunSpec) -> Mapping[str, AssetFacts]:
        """Return the gas; a blank is compared with none."""
        if spec.role == "check":
            return {}
        return {role: c.asset for role, c in ledger.kit.items() if role == GAS}

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures with causes; peaks that are not where they belong are outside."""
        if spec.role != "found":
            found = replace(found, causes=())
            drawn_again = spec.id.replace("blank", "blank_again", 1)
            if spec.role == "check" and spec.id != drawn_again and job.ledger.readings[drawn_again]:
                # It was drawn again: the second one counts, the first stays on the paper.
                return replace(found, mark="none", marks=tuple("none" for _ in found.marks))
            return found
        seen = evidence_of(job)
        found = replace(found, causes=named(job, spec.channel, found))
        if seen is not None and seen.times:
            return replace(found, mark="outside")
        return found

    def title(self, job: Reads, spec: RunSpec) -> str:
        """Return the title, with the component."""
        own = peaks(job.ledger.facts)
        if spec.channel >= len(own):
            return spec.title
        return f"{spec.title}, {own[spec.channel].label.lower()}"

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return what is typed."""
        return ("reading",)

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the name of the point."""
        by = {"check": "Blank", "left": "Check injection"}
        return by.get(spec.role, "Mean of the pair")

    def in_input(self, facts: InstrumentFacts) -> bool:
        """Tell that errors are said in ppm."""
        return True

    def stations(
        self, job: Reads, spec: RunSpec, figures: RunFigures, index: int, figure: str
    ) -> tuple[Station, ...]:
        """Return the strip from the gas to the result."""
        content = figures.taken[index].content
        found = stations(figures.facts, content.applied, None, content.reading, None, figure)
        names = {"applied": "Gas", "output": "Column and detector"}
        return tuple(replace(s, label=names.get(s.id, s.label)) for s in found)


def of_gas(facts: InstrumentFacts, asset: AssetFacts, applied: Decimal) -> tuple[Contribution, ...]:
    """Return what the gas and its injection add at a component. [% of range]

    References
    ----------
    JCGM 100, 4.3. The volume of the mean of two: over the root of 2.
    """
    top = to_float(facts.input_upper)
    for part in holds(asset).parts:
        value = to_float(part.value) * (1.0 if part.unit == "ppm" else 10_000.0)
        if applied and abs(value - to_float(applied)) < 1e-6 * max(1.0, value):
            share = 100 * value / top
            return (
                Contribution(
                    name=f"{part.gas.capitalize()} in {asset.asset}",
                    value=share * to_float(part.uncertainty_percent) / 100,
                    kind="expanded",
                ),
                Contribution(
                    name="Volume injected",
                    value=share * VOLUME_PERCENT / 100 / 2**0.5,
                    kind="limit",
                ),
                Contribution(
                    name="One point for the line", value=share * LINE_PERCENT / 100, kind="limit"
                ),
            )
    return ()


def of_trap(
    facts: InstrumentFacts, asset: AssetFacts, applied: Decimal
) -> tuple[Contribution, ...]:
    """Return nothing: the blank judges a trap, the pair a syringe, whose volume is in all alike."""
    return ()


INJECTED = Injected()
