"""The families of instruments. Each is a folder; this is the line that registers it."""

from __future__ import annotations

from calibration.engine.method.family import register
from calibration.families import (
    belt,
    chromatograph,
    dp_flow,
    gas,
    indicator,
    level,
    loadcells,
    magmeter,
    massflow,
    mixture,
    ph,
    pressure,
    smart,
    temperature,
    trace,
)

EVERY = (
    pressure.FAMILY,
    smart.FAMILY,
    temperature.FAMILY,
    level.FAMILY,
    dp_flow.FAMILY,
    gas.FAMILY,
    ph.FAMILY,
    trace.FAMILY,
    mixture.FAMILY,
    chromatograph.FAMILY,
    massflow.FAMILY,
    loadcells.FAMILY,
    indicator.FAMILY,
    belt.FAMILY,
    magmeter.FAMILY,
)
for _family in EVERY:
    register(_family)
