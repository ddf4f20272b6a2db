"""Tokens for scripts, and views that a person keeps."""

from __future__ import annotations

from typing import Any, Literal

from django.http import HttpRequest
from django.utils import timezone
from ninja import Field, Router, Schema
from ninja.security import HttpBearer

from calibration.kernel.errors import InputError
from verifyloop.accounts.models import Token, User, View
from verifyloop.accounts.permissions import can
from verifyloop.accounts.tokens import SCOPES, end_token, new_token, person_of
from verifyloop.api.paging import Id
from verifyloop.errors import NotFound, TokenRefused

router = Router(tags=["tokens"])
views = Router(tags=["views"])
#: So many views a person keeps.
MOST = 40


class TokenAuth(HttpBearer):
    """Asks in the name of the person who made the token; without a cookie there is no forgery."""

    def authenticate(self, request: HttpRequest, token: str) -> User:
        """Return the person.

        Raises
        ------
        TokenRefused
            ``token.refused`` where it is not good, or not good for what is asked.
        """
        user = person_of(token, request.method or "", request.path_info, timezone.now())
        if user is None:
            raise TokenRefused(
                "token.refused",
                "That token is not good, or not good for this.",
                "Make one for this purpose at Site, Scripts.",
            )
        request.user = user
        request.by_token = True  # type: ignore[attr-defined]
        request.token_user = user  # type: ignore[attr-defined]
        return user


class ScopeOut(Schema):
    """A purpose, in words."""

    id: str
    label: str


class TokenOut(Schema):
    """A token that is good, without what is secret of it."""

    id: int
    name: str
    person: str
    scope: str
    made_at: str
    expires_at: str


class TokensOut(Schema):
    """Tokens of one's own; of everybody for who manages people."""

    scopes: list[ScopeOut]
    tokens: list[TokenOut]


class TokenIn(Schema):
    """What a token is for, how long it is good, and one's own password."""

    name: str
    scope: str
    days: int
    password: str


class NewToken(Schema):
    """The token, shown once."""

    token: str


class ViewIn(Schema):
    """Filters of a list under a name."""

    place: Literal["instruments", "records"]
    name: str
    query: str = Field(max_length=400)


class ViewOut(Schema):
    """A view that is kept."""

    id: int
    place: str
    name: str
    query: str


class Ended(Schema):
    """It is gone."""

    gone: bool = True


@router.get("", response=TokensOut, operation_id="listTokens")
def list_tokens(request: HttpRequest) -> TokensOut:
    """Return the tokens that are good now."""
    user: Any = request.user
    good = Token.objects.filter(ended_at=None, expires_at__gt=timezone.now())
    if not can(user, "people.manage"):
        good = good.filter(user=user)
    return TokensOut(
        scopes=[ScopeOut(id=id, label=label) for id, label in SCOPES.items()],
        tokens=[
            TokenOut(
                id=t.pk,
                name=t.name,
                person=t.user.display_name,
                scope=t.scope,
                made_at=t.made_at.isoformat(),
                expires_at=t.expires_at.isoformat(),
            )
            for t in good.select_related("user").order_by("expires_at")
        ],
    )


@router.post("", response=NewToken, operation_id="newToken")
def make_token(request: HttpRequest, body: TokenIn) -> NewToken:
    """Make a token; it is shown once."""
    _, token = new_token(
        actor=request.user,  # type: ignore[arg-type]
        now=timezone.now(),
        **body.dict(),
    )
    return NewToken(token=token)


@router.delete("/{id}", response=Ended, operation_id="endToken")
def end_one(request: HttpRequest, id: Id) -> Ended:
    """End a token."""
    end_token(actor=request.user, id=id, now=timezone.now())  # type: ignore[arg-type]
    return Ended()


@views.get("", response=list[ViewOut], operation_id="listViews")
def list_views(request: HttpRequest) -> list[ViewOut]:
    """Return the views that one keeps, by name."""
    found = View.objects.filter(user=request.user).order_by("name")  # type: ignore[misc]
    return [ViewOut.from_orm(v) for v in found]


@views.post("", response=ViewOut, operation_id="keepView")
def keep_view(request: HttpRequest, body: ViewIn) -> ViewOut:
    """Keep a view under a name; one of the same name is gone over."""
    name = body.name.strip()[:40]
    if not name:
        raise InputError("name.missing", "name", "A view has a name.", "Give it one.")
    mine = View.objects.filter(user=request.user)  # type: ignore[misc]
    if mine.count() >= MOST and not mine.filter(place=body.place, name=name).exists():
        raise InputError("view.too_many", "name", f"You keep {MOST} views.", "Forget one first.")
    kept, _ = mine.update_or_create(  # type: ignore[misc]
        place=body.place,
        name=name,
        defaults={"query": body.query, "user": request.user},
    )
    return ViewOut.from_orm(kept)


@views.delete("/{id}", response=Ended, operation_id="forgetView")
def forget_view(request: HttpRequest, id: Id) -> Ended:
    """Forget a view of one's own."""
    gone, _ = View.objects.filter(user=request.user, pk=id).delete()  # type: ignore[misc]
    if not gone:
        raise NotFound("view.unknown", "There is no such view.", "Look again.")
    return Ended()
