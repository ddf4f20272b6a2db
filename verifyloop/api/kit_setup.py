"""Setting up the kit: references, bottles, weights, cylinders; withdrawn and taken back."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from calibration.setup.kit import CylinderForm, kit_form, kit_kind, kit_kinds
from verifyloop.accounts.permissions import require
from verifyloop.api.problems import Problem
from verifyloop.api.setup import SectionOut, as_problem
from verifyloop.kit import setup
from verifyloop.kit.models import KitChange

router = Router(tags=["kit"])


class KitKindOut(Schema):
    """A kind of thing that may be in the kit."""

    id: str
    title: str


class KitChangeOut(Schema):
    """A change: when, who, and what in words."""

    at: str
    by: str
    text: str


class KitFormOut(Schema):
    """A form with what stands in it."""

    kind: str
    title: str
    #: in which unit it is used up; empty where it is not
    used_in: str
    #: it is listed with cylinders that have a pressure, not with references
    cylinder: bool
    sections: list[SectionOut]
    record: dict[str, Any]
    #: state of what is changed; empty for something new
    version: str
    #: why it may not be used; empty where it may
    withdrawn: str
    changes: list[KitChangeOut]


class KitIn(Schema):
    """Something of the kit as typed; ``asset`` of the one that is changed."""

    kind: str
    record: dict[str, Any]
    asset: str = ""


class KitRecordChange(Schema):
    """A record as it is to be, the state that was read before, and why."""

    record: dict[str, Any]
    version: str
    reason: str


class Withdrawal(Schema):
    """Out of use, or back into it, and why."""

    withdrawn: bool
    reason: str
    version: str


class WrongOut(Schema):
    """Everything that is wrong."""

    wrong: list[Problem]


class StoredKit(Schema):
    """The number under which it is found."""

    asset: str


def _change(c: KitChange) -> KitChangeOut:
    said = f"{c.field}: {c.before or 'none'} to {c.after or 'none'}, because: {c.reason}"
    return KitChangeOut(at=c.at.isoformat(), by=c.by, text=said)


def _form(kind_id: str, record: dict[str, Any], asset: str = "") -> KitFormOut:
    kind = kit_kind(kind_id)
    thing = setup.thing_by_asset(asset) if asset else None
    return KitFormOut(
        kind=kind.id,
        title=kind.title,
        used_in=kind.used_in,
        cylinder=kind.form is CylinderForm,
        sections=[
            SectionOut(id=id, title=title, entries=list(found))
            for id, title, found in kit_form(kind)
        ],
        record=record,
        version=setup.version_of_thing(thing) if thing else "",
        withdrawn=thing.withdrawn if thing else "",
        changes=[_change(c) for c in setup.changes_of(asset)] if asset else [],
    )


@router.get("/kinds", response=list[KitKindOut], operation_id="kitKinds")
def kinds(request: HttpRequest) -> list[KitKindOut]:
    """Return every kind of thing that may be in the kit."""
    return [KitKindOut(id=k.id, title=k.title) for k in kit_kinds()]


@router.get("/things/new", response=KitFormOut, operation_id="newThing")
def new_thing(request: HttpRequest, kind: str = "", like: str = "") -> KitFormOut:
    """Return the form of something new: empty, or as a copy of what it replaces."""
    if like:
        other = setup.thing_by_asset(like)
        record = setup.kit_record(other) | {"asset": "", "serial": ""}
        return _form(setup.kind_of_thing(other).id, record)
    chosen = kit_kind(kind)
    return _form(chosen.id, {"unit": chosen.unit} if chosen.unit else {})


@router.get("/things/{asset}", response=KitFormOut, operation_id="getThing")
def get_thing(request: HttpRequest, asset: str) -> KitFormOut:
    """Return something of the kit with its form."""
    thing = setup.thing_by_asset(asset)
    return _form(setup.kind_of_thing(thing).id, setup.kit_record(thing), thing.asset)


@router.post("/check", response=WrongOut, operation_id="checkThing")
def check(request: HttpRequest, body: KitIn) -> WrongOut:
    """Say everything that is wrong with something; nothing is stored."""
    require(request.user, "kit.setup")  # type: ignore[arg-type]
    wrong = setup.wrong_thing(body.record, kit_kind(body.kind), body.asset)
    return WrongOut(wrong=[as_problem(w) for w in wrong])


@router.post("/things", response=StoredKit, operation_id="addThing")
def add(request: HttpRequest, body: KitIn) -> StoredKit:
    """Put something new into the kit."""
    made = setup.add_thing(
        actor=request.user,  # type: ignore[arg-type]
        kind=kit_kind(body.kind),
        record=body.record,
        now=timezone.now(),
    )
    return StoredKit(asset=made.asset)


@router.put("/things/{asset}", response=StoredKit, operation_id="putThing")
def put(request: HttpRequest, asset: str, body: KitRecordChange) -> StoredKit:
    """Change what is on record of something, with a reason for it."""
    changed = setup.change_thing(
        actor=request.user,  # type: ignore[arg-type]
        asset=asset,
        now=timezone.now(),
        **body.dict(),
    )
    return StoredKit(asset=changed.asset)


@router.post(
    "/things/{asset}/withdraw",
    response=KitFormOut,
    operation_id="withdrawThing",
)
def withdraw(request: HttpRequest, asset: str, body: Withdrawal) -> KitFormOut:
    """Take something out of use, or back into it."""
    setup.withdraw(actor=request.user, asset=asset, now=timezone.now(), **body.dict())  # type: ignore[arg-type]
    return get_thing(request, asset)
