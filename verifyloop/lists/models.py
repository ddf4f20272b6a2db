"""What a plant calls the columns of its own lists."""

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
