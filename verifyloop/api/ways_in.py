"""Ways into accounts: what the site asks of them, and what each person is told of their own."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils import timezone
from ninja import Field, Router, Schema

from verifyloop.accounts import resets, rules
from verifyloop.accounts.permissions import require
from verifyloop.api.session import SessionOut, session_out
from verifyloop.register.kept import version_of

router = Router(tags=["ways in"])


class RulesOut(Schema):
    """What the site asks of ways into accounts."""

    #: who makes links for others: one, administrator, two
    links_by: str
    #: so long signatures say that others opened a way into the account [d]
    reset_days: int
    version: str


class RulesIn(RulesOut):
    """The rules as they are to be, the state that was read before, and one's own password."""

    reset_days: int = Field(ge=0, le=365)
    own: str


def _out() -> RulesOut:
    now = resets.rules()
    return RulesOut(
        links_by=now.links_by,
        reset_days=now.reset_days,
        version=version_of(now) if now.pk else "",
    )


@router.get("/rules", response=RulesOut, operation_id="getSignInRules")
def get_rules(request: HttpRequest) -> RulesOut:
    """Return what the site asks of ways into accounts."""
    require(request.user, "people.manage")  # type: ignore[arg-type]
    return _out()


@router.put("/rules", response=RulesOut, operation_id="changeSignInRules")
def put_rules(request: HttpRequest, body: RulesIn) -> RulesOut:
    """Change what the site asks of ways into accounts."""
    rules.change(
        actor=request.user,  # type: ignore[arg-type]
        **body.dict(),
    )
    return _out()


@router.post("/notices/read", response=SessionOut, operation_id="noticesRead")
def notices_read(request: HttpRequest) -> SessionOut:
    """Say that one has read what one was told of one's own account."""
    resets.read(request.user, timezone.now())  # type: ignore[arg-type]
    return session_out(request)
