"""The works: areas, instruments, site rules."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from django.db import models

from calibration.engine.method.family import newest
from verifyloop.register.kept import Kept, KeptQuerySet


class Site(Kept):
    """The laboratory that issues the papers; one row."""

    name = models.CharField(max_length=120)
    laboratory = models.CharField(max_length=120, blank=True)
    address = models.CharField(max_length=240, blank=True)
    #: for whom the work is done, where that is not the site itself
    customer = models.CharField(max_length=120, blank=True)
    #: in which days and hours are said; that of the server where it is empty
    time_zone = models.CharField(max_length=60, blank=True)
    #: by which lists are written, and read where a number could be meant in two ways
    decimal_sign = models.CharField(max_length=1, default=".")
    #: by quantity the unit that a new instrument begins with
    units = models.JSONField(default=dict, blank=True)
    #: address of a work order in the plant's own system, with {number} where its number goes
    work_orders = models.CharField(max_length=200, blank=True)
    #: filled by the demo alone, and never with anything else
    demo = models.BooleanField(default=False)

    def __str__(self) -> str:
        return self.name


class Area(Kept):
    """A part of the works; ``order`` is the way a round walks."""

    name = models.CharField(max_length=80, unique=True)
    order = models.PositiveSmallIntegerField(default=0)

    def __str__(self) -> str:
        return self.name


class SiteRule(Kept):
    """A limit or setting that the site sets for all instruments of a method.

    A change is a new row with the next version; the newest counts. An empty value goes back to
    the product default.
    """

    method = models.CharField(max_length=60)
    key = models.CharField(max_length=60)
    version = models.PositiveIntegerField(default=1)
    value = models.CharField(max_length=60, blank=True)
    unit = models.CharField(max_length=20, blank=True)
    source = models.CharField(max_length=120)
    at = models.DateTimeField(null=True)
    by = models.CharField(max_length=120, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["method", "key", "version"], name="one_rule_a_version")
        ]


class Instruments(models.Manager.from_queryset(KeptQuerySet["Instrument"])):  # type: ignore[misc]
    """Instruments with what is planned for them."""

    def planned(
        self,
        *,
        method: str,
        parameters: Mapping[str, Any] | None = None,
        next_due: date | None = None,
        due_reason: str = "",
        **record: Any,
    ) -> Instrument:
        """Enter an instrument and its plan."""
        instrument: Instrument = self.create(**record)
        Plan.objects.create(
            instrument=instrument,
            method=method,
            parameters=parameters or {},
            next_due=next_due,
            due_reason=due_reason,
        )
        return instrument


class Instrument(Kept):
    """An installed instrument. Numbers stay text, as they were written."""

    tag = models.CharField(max_length=40, unique=True)
    serial = models.CharField(max_length=60)
    maker = models.CharField(max_length=60, blank=True)
    model = models.CharField(max_length=60, blank=True)
    description = models.CharField(max_length=120)
    area = models.ForeignKey(Area, on_delete=models.PROTECT, related_name="instruments")
    loop_role = models.CharField(max_length=20)
    input_unit = models.CharField(max_length=20)
    input_lower = models.CharField(max_length=40)
    input_upper = models.CharField(max_length=40)
    output_unit = models.CharField(max_length=20, default="mA")
    output_lower = models.CharField(max_length=40, default="4")
    output_upper = models.CharField(max_length=40, default="20")
    characteristic = models.CharField(max_length=20, default="linear")
    tolerance = models.JSONField()
    tolerance_source = models.CharField(max_length=120)
    smart = models.BooleanField(default=False)
    indicated = models.BooleanField(default=False)
    #: temperature sensor, e.g. Pt100 or K; its wires; room or reference junction in °C
    sensor = models.CharField(max_length=10, blank=True)
    wires = models.PositiveSmallIntegerField(default=4)
    junction_c = models.FloatField(default=23.0)
    #: what is particular to its family, by the type that the family names as its facts
    own = models.JSONField(default=dict, blank=True)
    #: settings and dimensions on record: [{name, value, unit, label}]
    settings = models.JSONField(default=list, blank=True)
    #: what the control room shows, where it is not the input itself
    indicated_unit = models.CharField(max_length=20, blank=True)
    indicated_lower = models.CharField(max_length=40, blank=True)
    indicated_upper = models.CharField(max_length=40, blank=True)
    indicated_characteristic = models.CharField(max_length=20, default="linear")
    caution = models.CharField(max_length=240, blank=True)
    last_on = models.DateField(null=True)
    last_mark_found = models.CharField(max_length=10, blank=True)
    last_mark_left = models.CharField(max_length=10, blank=True)
    last_outcome = models.CharField(max_length=10, blank=True)
    #: since when, by which job, how it is left, who has it; none while it is in service
    out_of_service = models.JSONField(null=True, default=None)

    objects = Instruments()  # type: ignore[misc]

    class Meta:
        indexes = [
            models.Index(
                fields=["tag"],
                condition=models.Q(out_of_service__isnull=False),
                name="plant_instrument_out",
            )
        ]

    def __str__(self) -> str:
        return self.tag

    @property
    def plan(self) -> Plan:
        """Return the first of its plans."""
        return self.plans.all()[0]

    def plan_of(self, method: str) -> Plan | None:
        """Return its plan of a method; none where that is not planned."""
        return next((p for p in self.plans.all() if p.method == method), None)

    def due_plans(self, today: date) -> list[Plan]:
        """Return the plans to be done next: what is due by today, else what is due first.

        One that does the work of the others as well comes first. One without a date is none, but
        out of service what failed is what is to be done.
        """
        failed = [p for p in self.plans.all() if p.next_due is None]
        if self.out_of_service is not None and failed:
            return failed
        planned = [(p.next_due, p) for p in self.plans.all() if p.next_due is not None]
        dated = sorted(planned, key=lambda one: one[0])
        until = max(today, dated[0][0]) if dated else today
        due = [p for day, p in dated if day <= until] or [self.plan]
        covered = {m for p in due for m in newest(p.method).covers}
        return sorted(due, key=lambda p: p.method in covered)


class Plan(Kept):
    """One thing that is done at an instrument, by which limits, and when it is due."""

    instrument = models.ForeignKey(Instrument, on_delete=models.CASCADE, related_name="plans")
    method = models.CharField(max_length=60)
    #: parameters of the method that the instrument's manual sets: {key: {value, unit, source}}
    parameters = models.JSONField(default=dict, blank=True)
    next_due = models.DateField(null=True, db_index=True)
    due_reason = models.CharField(max_length=160, blank=True)
    #: number of the order by which the next job is done; the job takes it over
    work_order = models.CharField(max_length=40, blank=True)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["instrument", "method"], name="one_plan_a_method")
        ]


class Change(Kept):
    """A change to an instrument's plan: who, when, what and why."""

    instrument = models.ForeignKey(Instrument, on_delete=models.PROTECT, related_name="changes")
    at = models.DateTimeField()
    by = models.CharField(max_length=120)
    field = models.CharField(max_length=40)
    before = models.CharField(max_length=120, blank=True)
    after = models.CharField(max_length=120)
    reason = models.CharField(max_length=400)


class Happening(Kept):
    """Something that a person saw happen to an instrument, and that ends what was good before."""

    instrument = models.ForeignKey(Instrument, on_delete=models.PROTECT, related_name="happenings")
    #: one of those that the family of the instrument names
    what = models.CharField(max_length=40)
    at = models.DateTimeField()
    noted_at = models.DateTimeField()
    by = models.CharField(max_length=120)


class FileColumns(Kept):
    """Where the columns are in the files of one device; the newest row counts."""

    instrument = models.ForeignKey(
        Instrument, on_delete=models.PROTECT, related_name="file_columns"
    )
    #: by column its heading and its unit
    columns = models.JSONField(default=dict)
    at = models.DateTimeField()
    by = models.CharField(max_length=120)


class PastResult(Kept):
    """A check from before as its paper says; nothing of it was measured with this product.

    Numbers stay text, as they were written.
    """

    instrument = models.ForeignKey(
        Instrument, on_delete=models.PROTECT, related_name="past_results"
    )
    day = models.DateField()
    report = models.CharField(max_length=60, blank=True)
    by = models.CharField(max_length=120, blank=True)
    found_error = models.CharField(max_length=40, blank=True)
    left_error = models.CharField(max_length=40, blank=True)
    limit = models.CharField(max_length=40, blank=True)
    found = models.CharField(max_length=10, blank=True)
    left = models.CharField(max_length=10, blank=True)
    remark = models.CharField(max_length=160, blank=True)
    #: who brought it in, and when
    entered_by = models.CharField(max_length=120)
    entered_at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["instrument", "day", "report"], name="one_result_a_paper"
            )
        ]

    def __str__(self) -> str:
        return f"{self.instrument.tag} {self.day}"


class Proposal(Kept):
    """A value that a job found otherwise than on record, until a planner decides."""

    instrument = models.ForeignKey(Instrument, on_delete=models.PROTECT, related_name="proposals")
    job = models.CharField(max_length=20)
    #: name under which it is found, and how the step called it
    field = models.CharField(max_length=60)
    label = models.CharField(max_length=120)
    before = models.CharField(max_length=120, blank=True)
    after = models.CharField(max_length=120)
    reason = models.CharField(max_length=400)
    by = models.CharField(max_length=120)
    at = models.DateTimeField()
    #: taken, left; empty while it is open
    outcome = models.CharField(max_length=10, blank=True, db_index=True)
    decided_by = models.CharField(max_length=120, blank=True)
    decided_at = models.DateTimeField(null=True)
    why = models.CharField(max_length=400, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["instrument", "job", "field"], name="one_proposal_a_value"
            )
        ]

    def __str__(self) -> str:
        return f"{self.instrument.tag} {self.label}"
