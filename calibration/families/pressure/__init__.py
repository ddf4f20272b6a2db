"""Pressure transmitters that are adjusted as one."""

from __future__ import annotations

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.method.family import Fit
from calibration.families.pressure.method import PRESSURE_TRANSMITTER, PRESSURE_TRANSMITTER_1
from calibration.families.pressure.templates import TEMPLATES
from calibration.families.shared.loop import family


def _one_output(facts: InstrumentFacts) -> bool:
    return not facts.sensor and not facts.setting("displacer_kg")


FAMILY = family(
    id="pressure",
    title="Pressure transmitters",
    methods=(PRESSURE_TRANSMITTER_1, PRESSURE_TRANSMITTER),
    templates=TEMPLATES,
    fits=(Fit(PRESSURE_TRANSMITTER.id, _one_output, "a transmitter with one output", rank=9),),
)
