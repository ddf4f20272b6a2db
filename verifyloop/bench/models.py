"""Tables of a site, beside those that are shipped."""

from django.db import models

from verifyloop.register.kept import Kept


class SiteBuffer(Kept):
    """A pH buffer of the site; a change is a new row, the newest counts."""

    set = models.CharField(max_length=40)
    nominal = models.CharField(max_length=10)
    temperatures_c = models.JSONField()
    values = models.JSONField()
    source = models.CharField(max_length=200)
    at = models.DateTimeField()
    by = models.CharField(max_length=120)

    class Meta:
        ordering = ("set", "nominal", "at")
        indexes = (models.Index(fields=("set", "nominal", "at")),)

    def __str__(self) -> str:
        return f"{self.set} {self.nominal}"
