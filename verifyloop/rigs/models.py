"""Simulated rigs: a virtual loop wired to an instrument."""

from django.db import models

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
