"""References: what measures the measurers."""

from django.db import models


class Reference(models.Model):
    """A reference instrument with its accuracy and its own due date."""

    asset = models.CharField(max_length=40, unique=True)
    description = models.CharField(max_length=120)
    serial = models.CharField(max_length=60)
    quantity = models.CharField(max_length=20)
    unit = models.CharField(max_length=20)
    #: terms of calibration.reference.Spec, numbers as text
    spec = models.JSONField()
    certificate = models.CharField(max_length=60)
    calibrated_on = models.DateField()
    due_on = models.DateField()
    withdrawn = models.CharField(max_length=160, blank=True)

    def __str__(self) -> str:
        return self.asset
