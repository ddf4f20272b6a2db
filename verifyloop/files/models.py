"""What is kept of an attachment; its content lies beside the database, by its digest."""

from django.db import models

from verifyloop.register.kept import Kept


class Attachment(Kept):
    """A paper or a photo that somebody put beside something; never deleted, only taken away."""

    #: what it belongs to: instrument, kit or job, and its tag or number
    about = models.CharField(max_length=10)
    key = models.CharField(max_length=40)
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=5)
    size = models.PositiveIntegerField()
    digest = models.CharField(max_length=64)
    note = models.CharField(max_length=200, blank=True)
    #: a photo of a job that is shown behind its paper
    on_paper = models.BooleanField(default=False)
    by = models.CharField(max_length=120)
    #: who that is, by the name they sign in with; empty where it was put there before that was kept
    account = models.CharField(max_length=150, blank=True)
    at = models.DateTimeField()
    #: why it was taken away; empty while it is there
    removed = models.CharField(max_length=200, blank=True)
    removed_by = models.CharField(max_length=120, blank=True)
    removed_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["about", "key"], name="files_about")]

    def __str__(self) -> str:
        return f"{self.name} of {self.key}"
