"""What a plant calls the columns of its own lists, and the lists that were brought in."""

from django.conf import settings
from django.db import models

from verifyloop.register.kept import Kept


class Synonym(Kept):
    """A heading of a plant's own lists, and the column that it stands for."""

    kind = models.CharField(max_length=20)
    #: as it is compared: small, without signs
    heading = models.CharField(max_length=80)
    #: name of a column; empty where it is left out
    column = models.CharField(max_length=80, blank=True)
    by = models.CharField(max_length=120)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["kind", "heading"], name="one_meaning_a_heading")
        ]

    def __str__(self) -> str:
        return f"{self.heading}: {self.column}"


class Brought(models.Model):
    """A list that is stored in lots, in the background; its number stands in every change."""

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        STOPPED = "stopped"
        REFUSED = "refused"

    kind = models.CharField(max_length=20)
    name = models.CharField(max_length=120)
    #: the file, until all of it is stored
    content = models.BinaryField()
    #: of the preview that was accepted
    mark = models.CharField(max_length=24)
    actor = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    at = models.DateTimeField()
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    #: by key a short mark of what there was of each row that was accepted
    was = models.JSONField(default=dict)
    #: somebody asked to stop it after the lot under way
    stop = models.BooleanField(default=False)
    total = models.PositiveIntegerField(default=0)
    done = models.PositiveIntegerField(default=0)
    #: what came of it: sums, rows that were skipped, why it was refused
    said = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"list {self.pk}, {self.name}"
