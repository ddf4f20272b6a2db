"""Jobs and their events. Events are only ever appended."""

from typing import Any

from django.conf import settings
from django.db import models
from django.db.models import Q

from verifyloop.plant.models import Instrument
from verifyloop.register.kept import Kept


class Job(models.Model):
    """A job, and a projection of its events for lists. ``manage.py rebuild`` makes it anew."""

    class Status(models.TextChoices):
        OPEN = "open"
        SIGNED = "signed"
        REVIEWED = "reviewed"
        VOIDED = "voided"

    number = models.CharField(max_length=20, unique=True)
    instrument = models.ForeignKey(Instrument, on_delete=models.PROTECT, related_name="jobs")
    method = models.CharField(max_length=60)
    method_version = models.PositiveSmallIntegerField()
    follows = models.ForeignKey(
        "self", null=True, on_delete=models.PROTECT, related_name="followed_by"
    )
    seq = models.PositiveIntegerField(default=0)
    head = models.CharField(max_length=80, blank=True)
    #: seal over number, seq and head
    tail = models.CharField(max_length=80, blank=True)

    # --- projection of the events ---
    status = models.CharField(max_length=10, choices=Status.choices, default=Status.OPEN)
    stage = models.CharField(max_length=12, blank=True)
    step_title = models.CharField(max_length=80, blank=True)
    opened_at = models.DateTimeField()
    opened_by = models.CharField(max_length=120)
    changed_at = models.DateTimeField()
    mark_found = models.CharField(max_length=10, blank=True)
    mark_left = models.CharField(max_length=10, blank=True)
    #: what it came to, once it is signed
    outcome = models.CharField(max_length=10, blank=True)
    #: whether what an error may have affected is still to be looked into: open or done
    follow_up = models.CharField(max_length=4, blank=True)
    max_error_found = models.FloatField(null=True)
    zero_found = models.FloatField(null=True)
    span_found = models.FloatField(null=True)
    max_error_left = models.FloatField(null=True)
    limit_percent = models.FloatField(null=True)
    adjusted = models.BooleanField(default=False)
    #: another sensor since then: fitted ``in`` the job, or found as another one ``before`` it
    anew = models.CharField(max_length=8, blank=True)
    causes = models.CharField(max_length=160, blank=True)
    on = models.JSONField(default=list)
    timers = models.JSONField(default=list)
    #: block in which a run goes on by itself
    in_block = models.CharField(max_length=40, blank=True)
    has_on = models.BooleanField(default=False)
    signed_at = models.DateTimeField(null=True)
    signed_by = models.CharField(max_length=120, blank=True)
    references = models.JSONField(default=list)
    #: number of the order by which it is done
    work_order = models.CharField(max_length=40, blank=True)
    #: what its family learnt from it, in the family's own shape
    learnt = models.JSONField(default=list)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["instrument"], condition=Q(status="open"), name="one_open_job"
            )
        ]
        indexes = [
            models.Index(fields=["status", "-changed_at"]),
            models.Index(fields=["instrument", "-signed_at"]),
            models.Index(fields=["-signed_at"]),
            models.Index(fields=["has_on"]),
            models.Index(fields=["in_block"]),
            models.Index(fields=["changed_at"]),
            # What words are looked for in: without the rows themselves.
            models.Index(
                fields=["-signed_at", "number", "signed_by", "work_order", "instrument"],
                condition=models.Q(signed_at__isnull=False),
                name="record_words",
            ),
            models.Index(
                fields=["-signed_at"], condition=Q(follow_up="open"), name="work_job_to_follow_up"
            ),
        ]

    def __str__(self) -> str:
        return self.number


class DeviceFile(models.Model):
    """A file that a device wrote, as it was read for a step of a job; kept with the job."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="device_files")
    step = models.CharField(max_length=40)
    name = models.CharField(max_length=120)
    #: SHA-256 of the content, in hex
    digest = models.CharField(max_length=64, db_index=True)
    content = models.BinaryField()
    #: what it says, by field of the step
    values = models.JSONField(default=dict)
    at = models.DateTimeField()
    by = models.CharField(max_length=120)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["job", "step", "digest"], name="one_file_a_step")
        ]


class OwnAct(Kept):
    """One time that a device did something by itself, as its own log says; told once, for ever."""

    instrument = models.ForeignKey(Instrument, on_delete=models.PROTECT, related_name="own_acts")
    act = models.CharField(max_length=40)
    at = models.DateTimeField()
    values = models.JSONField(default=dict)
    good = models.BooleanField()
    text = models.CharField(max_length=300)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["instrument", "act", "at"], name="one_act_a_moment")
        ]


class Round(models.Model):
    """Instruments that are checked one after the other, with one signature at the end."""

    opened_at = models.DateTimeField()
    opened_by = models.CharField(max_length=120)
    ended_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"round {self.pk}"


class RoundPlace(models.Model):
    """One instrument of a round; its job once it was reached."""

    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="places")
    place = models.PositiveSmallIntegerField()
    instrument = models.ForeignKey(Instrument, on_delete=models.PROTECT, related_name="+")
    job = models.ForeignKey(Job, null=True, on_delete=models.PROTECT, related_name="round_places")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["round", "place"], name="one_instrument_a_place")
        ]


class FrozenError(RuntimeError):
    """Something tried to change an event."""


class Event(models.Model):
    """One event, sealed to the one before. ``payload`` is the text that the seal covers."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="events")
    seq = models.PositiveIntegerField()
    uuid = models.UUIDField(unique=True)
    kind = models.CharField(max_length=20)
    at = models.DateTimeField()
    by = models.CharField(max_length=120)
    #: none where the product itself wrote it
    actor = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+"
    )
    payload = models.TextField()
    seal = models.CharField(max_length=80)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "seq"], name="one_event_per_place")]

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Refuse to change an event that is stored."""
        if self.pk is not None:
            raise FrozenError("events are only ever appended")
        super().save(*args, **kwargs)

    def delete(self, *args: Any, **kwargs: Any) -> tuple[int, dict[str, int]]:
        """Refuse to delete an event."""
        raise FrozenError("events are never deleted")


class Presence(models.Model):
    """Somebody looks at a job: when that was last heard. Gone soon, and no evidence of anything."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="+")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    heard_at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "user"], name="once_at_a_job")]
