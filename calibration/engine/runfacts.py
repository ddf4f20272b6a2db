"""What an instrument looks like in one of its runs, and the points of that run."""

from __future__ import annotations

from dataclasses import fields, replace
from decimal import Decimal
from functools import lru_cache
from typing import Any

from calibration.engine import events as ev
from calibration.engine.ledger import Ledger
from calibration.engine.method import RunSpec
from calibration.engine.parameters import Settings
from calibration.families.gas.gases import gas_facts, gas_plan
from calibration.kernel.codec import decode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, from_float, parse_decimal
from calibration.kernel.rounding import fixed
from calibration.measuring import level
from calibration.runs.points import PlanIn, PlannedPoint, plan
from calibration.sensors import curves
from calibration.signals.transfer import input_for

#: Steps that note the temperature of the reference junction.
JUNCTION = ("junction", "temperature")


def junction_c(ledger: Ledger) -> float:
    """Return the reference junction as measured in the job, else the one on record. [°C]"""
    noted = ledger.recorded.get(JUNCTION)
    if noted is None:
        return ledger.facts.junction_c
    return float(parse_decimal(noted[0], "junction"))


def run_facts(ledger: Ledger, spec: RunSpec) -> ev.InstrumentFacts:
    """Return the instrument as a run sees it: with weights, in percent, or with its junction."""
    if spec.input == "gas":
        return _gas(ledger.facts, spec.channel)
    return _facts(ledger.facts, spec.input, junction_c(ledger))


@lru_cache(maxsize=256)
def _gas(facts: ev.InstrumentFacts, channel: int) -> ev.InstrumentFacts:
    return gas_facts(facts, channel)


@lru_cache(maxsize=256)
def _facts(facts: ev.InstrumentFacts, given: str, junction: float) -> ev.InstrumentFacts:
    if given == "weights":
        heavy, light = (hang_at(facts, Decimal(p)) for p in (0, 100))
        return replace(facts, input_unit="g", input_lower=heavy, input_upper=light)
    if given == "percent":
        return replace(facts, input_unit="%", input_lower=Decimal(0), input_upper=HUNDRED)
    if facts.sensor and facts.characteristic not in ("linear", "square_root"):
        ends = [
            from_float(curves.signal_of(facts.sensor, float(t), junction))
            for t in (facts.input_lower, facts.input_upper)
        ]
        return replace(facts, output_lower=ends[0], output_upper=ends[1], junction_c=junction)
    return replace(facts, junction_c=junction) if facts.sensor else facts


def on_record(facts: ev.InstrumentFacts, input_type: type) -> dict[str, Any]:
    """Return the settings on record that an operation takes, each with its unit."""
    names = {f.name for f in fields(input_type)}
    return {
        s.name: {"value": s.value, "unit": s.unit} if s.unit else s.value
        for s in facts.settings
        if s.name in names
    }


def hang_at(facts: ev.InstrumentFacts, percent: Decimal) -> Decimal:
    """Return the weight to hang for a level, to 0.1 g. [g]

    Raises
    ------
    InputError
        Those of ``displacer.weights``, and ``number.missing`` for a dimension not on record.

    References
    ----------
    Archimedes' principle, :func:`calibration.level.displacer_weights`.
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


def run_plan(
    ledger: Ledger, settings: Settings, spec: RunSpec, facts: ev.InstrumentFacts
) -> tuple[PlannedPoint, ...]:
    """Return the test points of a run."""
    if spec.input == "gas":
        return gas_plan(ledger, settings, spec)
    own = tuple(Decimal(p) for p in spec.percents)
    percents = own or settings.percents
    overshoot = settings.number("overshoot_percent") if settings.has("overshoot_percent") else None
    points = _planned(
        PlanIn(
            input_lower=facts.input_lower,
            input_upper=facts.input_upper,
            points=5 if percents else settings.points,
            percents=percents,
            pattern=spec.pattern or settings.pattern,  # type: ignore[arg-type]
            cycles=1 if own else settings.cycles,
            overshoot_percent=overshoot or Decimal(0),
        )
    )
    if spec.input == "weights":
        return tuple(replace(p, nominal=hang_at(facts, p.nominal_percent)) for p in points)
    if spec.input == "fixed_current":
        return tuple(replace(p, nominal=_behind(facts, p), approach=None) for p in points)
    return points


@lru_cache(maxsize=256)
def _planned(request: PlanIn) -> tuple[PlannedPoint, ...]:
    return plan(request).points


def _behind(facts: ev.InstrumentFacts, point: PlannedPoint) -> Decimal:
    """Return the input that a fixed current stands for. [input unit]"""
    return input_for(facts.transfer, current_at(facts, point))


def current_at(facts: ev.InstrumentFacts, point: PlannedPoint) -> Decimal:
    """Return the current that the device is fixed at for a point. [output unit]"""
    span = facts.output_upper - facts.output_lower
    return facts.output_lower + span * point.nominal_percent / HUNDRED
