"""Runs of a level instrument: weights in place of the displacer, and liquid in the chamber."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from functools import lru_cache
from typing import Literal

from calibration.engine.facts import InstrumentFacts
from calibration.engine.ledger import Ledger
from calibration.engine.method import RunSpec
from calibration.engine.parameters import Settings
from calibration.engine.recorded import on_record
from calibration.engine.runkind import RunKind
from calibration.kernel.codec import decode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED
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
def _in_percent(facts: InstrumentFacts) -> InstrumentFacts:
    return replace(facts, input_unit="%", input_lower=Decimal(0), input_upper=HUNDRED)


class Weights(RunKind):
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


class Liquid(RunKind):
    """Liquid in the chamber, in percent of the level."""

    id = "liquid"
    scale: Literal["input", "percent"] = "percent"
    reads_digital = False

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the instrument with the level as its input. [%]"""
        return _in_percent(ledger.facts)
