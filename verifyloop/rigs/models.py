"""Simulated rigs: a virtual loop wired to an instrument."""

import json
from functools import lru_cache

from django.db import models

from calibration.kernel.codec import decode
from calibration.simulate.commands import Command
from verifyloop.plant.models import Instrument


class Rig(models.Model):
    """The loop's model and everything commanded so far; its values are a pure function of both."""

    instrument = models.OneToOneField(Instrument, on_delete=models.PROTECT, related_name="rig")
    model = models.JSONField()
    seed = models.PositiveBigIntegerField()
    started_at = models.DateTimeField()
    #: how many times faster than real time the rig runs
    pace = models.FloatField(default=1.0)
    commands = models.JSONField(default=list, blank=True)

    def commanded(self) -> list[Command]:
        """Return everything that was commanded, in order of time."""
        return list(_decoded(json.dumps(self.commands)))


@lru_cache(maxsize=64)
def _decoded(commands: str) -> tuple[Command, ...]:
    """Decode a list once: a live picture asks several times a second."""
    return tuple(decode(Command, c, "command") for c in json.loads(commands))
