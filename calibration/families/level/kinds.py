"""Runs of a level instrument: weights in place of the displacer, and liquid in the chamber."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from decimal import Decimal
from functools import lru_cache
from typing import Literal

from calibration.decisions.reference import Spec
from calibration.decisions.uncertainty import Contribution
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.recorded import on_record
from calibration.engine.method.method import RunSpec
from calibration.families.shared.loop.run import LoopRun
from calibration.kernel.codec import decode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, from_float, parse_decimal
from calibration.kernel.rounding import fixed, trimmed
from calibration.measuring import level
from calibration.runs.points import PlannedPoint


def hang_at(facts: InstrumentFacts, percent: Decimal) -> Decimal:
    """Return the weight to hang for a level, to 0.1 g. [g]

    Raises
    ------
    InputError
        Those of ``displacer.weights``, and ``displacer.unknown`` for a dimension not on record.

    References
    ----------
    Archimedes' principle, :func:`calibration.measuring.level.displacer_weights`.
    """
    given = on_record(facts, level.WeightsIn)
    if not {"displacer_kg", "density"} <= given.keys():
        raise InputError(
            "displacer.unknown",
            "settings",
            "Mass of the displacer or density of the liquid is not on record.",
            "Enter them with the instrument first.",
        )
    given["percents"] = [str(percent)]
    found = level.displacer_weights(decode(level.WeightsIn, given, "settings"))
    return fixed(found.weights[0].hung_g, 1)


@lru_cache(maxsize=256)
def _in_grams(facts: InstrumentFacts) -> InstrumentFacts:
    heavy, light = (hang_at(facts, Decimal(p)) for p in (0, 100))
    return replace(facts, input_unit="g", input_lower=heavy, input_upper=light)


@lru_cache(maxsize=256)
def _in_percent(facts: InstrumentFacts, low: Decimal, high: Decimal) -> InstrumentFacts:
    """Return the instrument with the level as its input; what it should give at both ends. [%]"""
    out = facts.transfer.output_span / HUNDRED
    # The control room goes on showing what the current means: at the ends of this liquid less, or
    # more, than empty and full.
    shown_low = facts.indicated_lower if facts.indicated_lower is not None else Decimal(0)
    shown_top = facts.indicated_upper if facts.indicated_upper is not None else HUNDRED
    shown = (shown_top - shown_low) / HUNDRED
    in_room = facts.indicated
    return replace(
        facts,
        indicated_lower=shown_low + low * shown if in_room else facts.indicated_lower,
        indicated_upper=shown_low + high * shown if in_room else facts.indicated_upper,
        input_unit="%",
        input_lower=Decimal(0),
        input_upper=HUNDRED,
        output_lower=facts.output_lower + low * out,
        output_upper=facts.output_lower + high * out,
    )


#: Fields that say which liquid a wet run is taken in.
WET_STEP, WET_LIQUID, WET_UPPER = "liquid", "wet_density", "wet_upper_density"


def recorded_number(ledger: Ledger, field: str) -> Decimal | None:
    """Return a number that was written down about the liquid of the wet run; none unwritten."""
    entry = ledger.recorded.get((WET_STEP, field))
    return parse_decimal(entry[0], field) if entry is not None else None


def expected_ends(ledger: Ledger) -> tuple[Decimal, Decimal]:
    """Return what a perfect unit gives with the liquid of the wet run, empty and full. [%]

    References
    ----------
    Archimedes' principle: the buoyancy is that of the liquid around the displacer, and the unit
    counts it by the densities that it is ranged for.
    """
    ranged = on_record(ledger.facts, level.WeightsIn)
    wet = recorded_number(ledger, WET_LIQUID)
    if wet is None or "density" not in ranged:
        return Decimal(0), HUNDRED
    known = decode(level.WeightsIn, ranged, "settings")
    lower, upper = (from_float(d) for d in (known.density, known.upper_density))
    above = recorded_number(ledger, WET_UPPER) or Decimal(0)
    low, high = ((d - upper) / (lower - upper) for d in (above, wet))
    return fixed(HUNDRED * low, 3), fixed(HUNDRED * high, 3)


class Weights(LoopRun):
    """Weights that stand for the displacer in its liquid."""

    id = "weights"
    gone_past = False
    reads_digital = False

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the instrument with weights as its input. [g]"""
        return _in_grams(ledger.facts)

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return the points as weights to hang, to 0.1 g."""
        return tuple(
            replace(p, nominal=hang_at(facts, p.nominal_percent))
            for p in super().plan(ledger, settings, spec, facts)
        )

    def words(self, facts: InstrumentFacts, point: PlannedPoint) -> str:
        """Return the weight and the level that it stands for."""
        return f"{super().words(facts, point)} ({trimmed(point.nominal_percent)} % level)"


class Liquid(LoopRun):
    """Liquid in the chamber, in percent of the level."""

    id = "liquid"
    scale: Literal["input", "percent"] = "percent"
    reads_digital = False

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the instrument with the level as its input, in the liquid of the run. [%]"""
        return _in_percent(ledger.facts, *expected_ends(ledger))

    def kit(self, ledger: Ledger, spec: RunSpec) -> Mapping[str, AssetFacts]:
        """Return the references; the level is read at a glass, with what it can be read to."""
        within = recorded_number(ledger, "glass_within")
        if within is None:
            return super().kit(ledger, spec)
        glass = AssetFacts(
            asset="level glass",
            description="Level glass",
            serial="",
            quantity="level_glass",
            unit="%",
            spec=Spec(absolute=within, full_scale=HUNDRED),
            certificate="",
            calibrated_on="",
            due_on="",
        )
        return {**super().kit(ledger, spec), "glass": glass}


def of_glass(
    facts: InstrumentFacts, asset: AssetFacts, applied: Decimal
) -> tuple[Contribution, ...]:
    """Return what the level glass adds to the uncertainty. [% of span]"""
    return (Contribution(name=asset.description, value=float(asset.spec.absolute), kind="limit"),)
