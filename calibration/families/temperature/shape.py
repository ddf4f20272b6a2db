"""How a method is fitted to one sensor: which meter reads it."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Field, KitRole, Step
from calibration.engine.method.shape import Shape
from calibration.families.shared.parts import METER
from calibration.families.temperature.kinds import in_degrees
from calibration.families.temperature.methods import JUNCTION
from calibration.sensors.curves import unit_of


class SensorShape(Shape):
    """The steps of a method as they are for one sensor."""

    def roles(self, job: Reads, step: Step) -> tuple[KitRole, ...]:
        """Return the references; a sensor in degrees is read by what measures sensors."""
        if not in_degrees(job.ledger):
            return step.roles
        return tuple(
            replace(r, quantity="sensor_signal", label="Meter that shows degrees")
            if r.id == METER.id
            else r
            for r in step.roles
        )

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the values; without a thermocouple no figure hangs on the junction."""
        sensor = job.ledger.facts.sensor
        if step.id != JUNCTION.id or (sensor and unit_of(sensor) == "mV"):
            return step.fields
        return tuple(replace(field, barred="") for field in step.fields)
