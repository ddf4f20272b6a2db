"""What a job found otherwise than on record: a planner takes it over, or leaves the record."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from verifyloop.api.instruments import InstrumentOut, shown
from verifyloop.plant import proposals

router = Router(tags=["instruments"])


class ProposalIn(Schema):
    """Taken over into the record, or not; and why."""

    take: bool
    reason: str


@router.post(
    "/{tag}/proposals/{int:proposal}",
    response=InstrumentOut,
    operation_id="decideProposal",
)
def decide_proposal(
    request: HttpRequest, tag: str, proposal: int, body: ProposalIn
) -> InstrumentOut:
    """Take a value that was found over into the record, or leave the record as it is."""
    return shown(
        proposals.decide(
            actor=request.user,  # type: ignore[arg-type]
            tag=tag,
            proposal=proposal,
            now=timezone.now(),
            **body.dict(),
        )
    )
