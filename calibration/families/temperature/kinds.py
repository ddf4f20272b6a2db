"""The run of a temperature sensor: what it gives depends on its reference junction."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.method.method import RunSpec
from calibration.families.shared.loop.run import LoopRun
from calibration.families.temperature.methods import HOW_READ, IN_DEGREES, JUNCTION, READ_AS
from calibration.kernel.numbers import from_float, parse_decimal
from calibration.kernel.rounding import show
from calibration.runs.points import PlannedPoint
from calibration.sensors.curves import R0_OHM, signal_of, unit_of


def in_degrees(ledger: Ledger) -> bool:
    """Tell whether the sensor is read in degrees, its junction compensated by the meter."""
    entry = ledger.recorded.get((HOW_READ.id, READ_AS.id))
    return entry is not None and entry[0] == IN_DEGREES


@lru_cache(maxsize=256)
def _in_degrees(facts: InstrumentFacts) -> InstrumentFacts:
    return replace(
        facts,
        characteristic="linear",
        output_unit=facts.input_unit,
        output_lower=facts.input_lower,
        output_upper=facts.input_upper,
        sensor="",
    )


def junction_c(ledger: Ledger) -> float:
    """Return the reference junction as measured in the job, else the one on record. [°C]"""
    noted = ledger.recorded.get((JUNCTION.id, JUNCTION.fields[0].id))
    if noted is None:
        return ledger.facts.junction_c
    return float(parse_decimal(noted[0], "junction"))


@lru_cache(maxsize=256)
def _at_junction(facts: InstrumentFacts, junction: float) -> InstrumentFacts:
    if facts.sensor and facts.characteristic not in ("linear", "square_root"):
        ends = [
            from_float(signal_of(facts.sensor, float(t), junction))
            for t in (facts.input_lower, facts.input_upper)
        ]
        return replace(facts, output_lower=ends[0], output_upper=ends[1], junction_c=junction)
    return replace(facts, junction_c=junction) if facts.sensor else facts


class Sensor(LoopRun):
    """A temperature sensor in a block, or a calibrator in its place."""

    id = "sensor"

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the instrument with the output of its sensor at the junction measured."""
        if in_degrees(ledger):
            return _in_degrees(ledger.facts)
        return _at_junction(ledger.facts, junction_c(ledger))

    def equivalent(self, facts: InstrumentFacts, point: PlannedPoint) -> str:
        """Return the signal of the sensor at a point."""
        if not facts.sensor:
            return ""
        signal = signal_of(facts.sensor, float(point.nominal), facts.junction_c)
        text = f"{facts.sensor if facts.sensor in R0_OHM else 'type ' + facts.sensor}: "
        text += f"{show(signal, 3)} {unit_of(facts.sensor)}"
        if facts.sensor not in R0_OHM:
            text += f", junction at {facts.junction_c:g} °C"
        return text
