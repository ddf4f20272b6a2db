"""Temperature: sensors in blocks, transmitters with a simulated sensor, whole loops."""

from __future__ import annotations

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.method.family import Fit
from calibration.families.shared.loop import family
from calibration.families.temperature.kinds import Sensor
from calibration.families.temperature.methods import (
    TEMPERATURE_LOOP,
    TEMPERATURE_LOOP_1,
    TEMPERATURE_SENSOR,
    TEMPERATURE_SENSOR_1,
    TEMPERATURE_TRANSMITTER,
    TEMPERATURE_TRANSMITTER_1,
)
from calibration.families.temperature.shape import SensorShape
from calibration.families.temperature.templates import TEMPLATES


def _by_itself(facts: InstrumentFacts) -> bool:
    return bool(facts.sensor) and facts.output_unit in ("Ω", "mV")


def _with_transmitter(facts: InstrumentFacts) -> bool:
    return bool(facts.sensor) and facts.output_unit in ("mA", "V")


FAMILY = family(
    id="temperature",
    title="Temperature",
    methods=(
        TEMPERATURE_SENSOR_1,
        TEMPERATURE_SENSOR,
        TEMPERATURE_TRANSMITTER_1,
        TEMPERATURE_TRANSMITTER,
        TEMPERATURE_LOOP_1,
        TEMPERATURE_LOOP,
    ),
    shape=SensorShape(),
    templates=TEMPLATES,
    fits=(
        Fit(TEMPERATURE_SENSOR.id, _by_itself, "a sensor that is read in ohm or millivolt"),
        Fit(
            TEMPERATURE_TRANSMITTER.id,
            _with_transmitter,
            "a transmitter with a sensor that can be simulated",
        ),
        Fit(
            TEMPERATURE_LOOP.id,
            _with_transmitter,
            "sensor and transmitter can go into a block together",
        ),
    ),
    runs={Sensor.id: Sensor()},
)
