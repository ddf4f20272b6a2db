"""How a method is fitted to one sensor: which meter reads it."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method import KitRole, Step
from calibration.engine.reads import Reads
from calibration.engine.shape import Shape
from calibration.families.shared.parts import METER
from calibration.families.temperature.kinds import in_degrees


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
