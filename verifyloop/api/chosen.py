"""Which instruments a file is of: those named in the address, or all that fit."""

from __future__ import annotations

from django.utils import timezone
from ninja import Field, Schema

from verifyloop.plant.finding import Sought, sought


class ChosenQuery(Schema):
    """Tags, or what is looked for; everything where both are empty."""

    q: str = Field("", max_length=200)
    area: str = Field("", max_length=200)
    kind: str = Field("", max_length=200)
    state: str = Field("", max_length=20)
    tags: list[str] = Field([], max_length=5000)

    def sought(self) -> Sought:
        """Return what is looked for."""
        return Sought(self.q, self.area, self.kind, self.state)

    def only(self) -> set[str] | None:
        """Return the tags; none where everything is meant."""
        if self.tags:
            return set(self.tags)
        if self.sought() == Sought():
            return None
        found = sought(self.sought(), timezone.localdate())
        return set(found.values_list("tag", flat=True))
