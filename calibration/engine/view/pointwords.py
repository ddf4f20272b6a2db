"""What is applied at a point, in words."""

from __future__ import annotations

from calibration.engine.events import InstrumentFacts
from calibration.engine.method import RunSpec
from calibration.engine.runfacts import current_at
from calibration.kernel.rounding import fixed, show, trimmed
from calibration.runs.points import PlannedPoint
from calibration.sensors.curves import R0_OHM, signal_of, unit_of


def at_point(facts: InstrumentFacts, spec: RunSpec, point: PlannedPoint) -> str:
    """Return what is applied at a point, in words."""
    if spec.input == "fixed_current":
        return f"{trimmed(current_at(facts, point))} {facts.output_unit}"
    value = f"{trimmed(point.nominal)} {facts.input_unit}"
    if spec.input == "weights":
        value += f" ({trimmed(point.nominal_percent)} % level)"
    return value


def equivalent_of(facts: InstrumentFacts, spec: RunSpec, point: PlannedPoint) -> str:
    """Return what stands for a point besides its value: the signal of a sensor, or the input."""
    if spec.input == "fixed_current":
        return f"stands for {trimmed(fixed(point.nominal, 3))} {facts.input_unit}"
    if not facts.sensor:
        return ""
    signal = signal_of(facts.sensor, float(point.nominal), facts.junction_c)
    text = f"{facts.sensor if facts.sensor in R0_OHM else 'type ' + facts.sensor}: "
    text += f"{show(signal, 3)} {unit_of(facts.sensor)}"
    if facts.sensor not in R0_OHM:
        text += f", junction at {facts.junction_c:g} °C"
    return text
