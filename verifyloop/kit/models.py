"""References: what measures the measurers."""

from django.db import models

from verifyloop.register.kept import Kept


class Reference(Kept):
    """A reference instrument with its accuracy and its own due date."""

    asset = models.CharField(max_length=40, unique=True)
    description = models.CharField(max_length=120)
    serial = models.CharField(max_length=60)
    quantity = models.CharField(max_length=20)
    unit = models.CharField(max_length=20)
    #: terms of calibration.reference.Spec, numbers as text
    spec = models.JSONField()
    certificate = models.CharField(max_length=60)
    #: laboratory that issued the certificate
    issued_by = models.CharField(max_length=120, blank=True)
    #: values of its certificate, numbers as text; and how it drifts in a year
    certified = models.JSONField(default=list, blank=True)
    drift_per_year = models.CharField(max_length=40, blank=True)
    calibrated_on = models.DateField()
    due_on = models.DateField()
    withdrawn = models.CharField(max_length=160, blank=True)
    #: what its family adds, read as the family's own type
    own = models.JSONField(default=dict, blank=True)
    #: how much it held when it was opened, where it is used up; and what the simulated rig
    #: really finds in it, where that is not what the label says
    amount = models.FloatField(null=True)
    truth = models.JSONField(default=dict, blank=True)

    def __str__(self) -> str:
        return self.asset


class Use(models.Model):
    """What a job took from a reference that is used up; made from the events of the job."""

    reference = models.ForeignKey(Reference, on_delete=models.PROTECT, related_name="uses")
    job = models.CharField(max_length=20, db_index=True)
    tag = models.CharField(max_length=40)
    at = models.DateTimeField()
    amount = models.FloatField()


class Hold(models.Model):
    """What is set aside of a reference for a job that is open; made from the events of the job."""

    reference = models.ForeignKey(Reference, on_delete=models.PROTECT, related_name="holds")
    job = models.CharField(max_length=20, db_index=True)
    amount = models.FloatField()


class Cylinder(Kept):
    """A cylinder of calibration gas. Numbers stay text, as the label says them."""

    asset = models.CharField(max_length=40, unique=True)
    description = models.CharField(max_length=120)
    #: parts of calibration.gas.cylinder.Cylinder: [{gas, value, unit, lel_set}]
    parts = models.JSONField(default=list, blank=True)
    balance = models.CharField(max_length=20, default="air")
    uncertainty_percent = models.CharField(max_length=10, default="2")
    lot = models.CharField(max_length=40, blank=True)
    certificate = models.CharField(max_length=60)
    #: laboratory that issued the certificate
    issued_by = models.CharField(max_length=120, blank=True)
    filled_on = models.DateField()
    expires_on = models.DateField()
    water_l = models.CharField(max_length=10)
    #: gauge pressure when it was last read; what was drawn since is booked in :class:`GasUse`
    pressure_bar = models.CharField(max_length=10)
    minimum_bar = models.CharField(max_length=10, default="5")
    #: flow of the regulator on it; empty for a valve that can be set
    flow_l_per_min = models.CharField(max_length=10, blank=True)
    demand = models.BooleanField(default=False)
    humidifier = models.BooleanField(default=False)
    #: why it may not be used any more, for example a recalled lot
    withdrawn = models.CharField(max_length=160, blank=True)
    #: what the simulated gas train really lets out; empty means what the label says
    truth = models.JSONField(default=dict, blank=True)

    def __str__(self) -> str:
        return self.asset


class GasUse(models.Model):
    """Gas drawn by a job, one row an opening; made from the events of the job."""

    cylinder = models.ForeignKey(Cylinder, on_delete=models.PROTECT, related_name="uses")
    job = models.CharField(max_length=20, db_index=True)
    tag = models.CharField(max_length=40)
    at = models.DateTimeField()
    litres = models.FloatField()


class GasHold(models.Model):
    """Gas set aside for a job that is open."""

    cylinder = models.ForeignKey(Cylinder, on_delete=models.PROTECT, related_name="holds")
    job = models.CharField(max_length=20, db_index=True)
    litres = models.FloatField()


class KitChange(Kept):
    """A change to something in the kit: who, when, what and why."""

    asset = models.CharField(max_length=40, db_index=True)
    at = models.DateTimeField()
    by = models.CharField(max_length=120)
    field = models.CharField(max_length=40)
    before = models.CharField(max_length=120, blank=True)
    after = models.CharField(max_length=120, blank=True)
    reason = models.CharField(max_length=400)

    def __str__(self) -> str:
        return f"{self.asset} {self.field}"
