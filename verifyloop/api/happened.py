"""What anybody saw happen to an instrument, and that ends what was good before."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from verifyloop.api.instruments import InstrumentOut, shown
from verifyloop.work.result_validity import note

router = Router(tags=["instruments"])


class HappenedIn(Schema):
    """What happened, and when, by the clock of the site; now where it is empty."""

    what: str
    at: str = ""


@router.post("/{tag}/happened", response=InstrumentOut, operation_id="noteHappened")
def note_happened(request: HttpRequest, tag: str, body: HappenedIn) -> InstrumentOut:
    """Note that something happened which ends what was good before; anybody may."""
    return shown(
        note(
            actor=request.user,  # type: ignore[arg-type]
            tag=tag,
            what=body.what,
            at=body.at,
            now=timezone.now(),
        )
    )
