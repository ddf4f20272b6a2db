"""The site: how it is started, and what is said of it."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import login
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from ninja.errors import HttpError
from ninja.utils import check_csrf

from calibration.kernel.units import PREFERRED
from verifyloop.accounts import guessing
from verifyloop.accounts.people import PersonGiven
from verifyloop.accounts.permissions import require
from verifyloop.accounts.proving import proven
from verifyloop.api.paging import Id
from verifyloop.api.session import SessionOut, session_out
from verifyloop.errors import NotFound
from verifyloop.plant import start
from verifyloop.plant.models import Site
from verifyloop.plant.selectors import site_now
from verifyloop.plant.site import SiteGiven, change_site, units_of
from verifyloop.plant.zone import zones
from verifyloop.records import outside
from verifyloop.register.kept import version_of

router = Router(tags=["site"])


class SiteIn(Schema):
    """What is said of the site."""

    name: str
    laboratory: str = ""
    address: str = ""
    customer: str = ""
    #: address of a work order in the plant's own system, with {number} in it
    work_orders: str = ""
    time_zone: str = "UTC"
    decimal_sign: str = "."
    units: dict[str, str] = {}


class SiteOut(SiteIn):
    """The site as it is, with the mark of this state of it."""

    version: str
    demo: bool


class UnitChoice(Schema):
    """The units that may be preferred for a quantity."""

    quantity: str
    usual: str
    units: list[str]


class SiteChoices(Schema):
    """What may be chosen."""

    zones: list[str]
    units: list[UnitChoice]


class SiteChange(SiteIn):
    """The site as it is to be, and the state that was read before."""

    version: str


class FirstPerson(Schema):
    """The first planner."""

    username: str
    first_name: str
    last_name: str
    email: str = ""
    password: str


class StartIn(Schema):
    """The key from the console, the site, and its first planner."""

    key: str
    site: SiteIn
    person: FirstPerson


def _out(site: Site) -> SiteOut:
    return SiteOut(
        name=site.name,
        laboratory=site.laboratory,
        address=site.address,
        customer=site.customer,
        work_orders=site.work_orders,
        time_zone=site.time_zone or "UTC",
        decimal_sign=site.decimal_sign,
        units=site.units,
        version=version_of(site),
        demo=site.demo,
    )


@router.get("/choices", response=SiteChoices, auth=None, operation_id="getSiteChoices")
def choices(request: HttpRequest) -> SiteChoices:
    """Return time zones and units to choose from."""
    units: list[Any] = [
        UnitChoice(quantity=quantity, usual=usual, units=list(units_of(quantity)))
        for quantity, usual in PREFERRED.items()
    ]
    return SiteChoices(zones=zones(), units=units)


@router.get("", response=SiteOut, operation_id="getSite")
def get_site(request: HttpRequest) -> SiteOut:
    """Return what is said of the site."""
    site = site_now()
    if site is None:
        raise NotFound("site.none", "The site has no name yet.", "A planner gives it one.")
    return _out(site)


@router.put("", response=SiteOut, operation_id="changeSite")
def put_site(request: HttpRequest, body: SiteChange) -> SiteOut:
    """Change what is said of the site."""
    said = SiteGiven(**body.dict(exclude={"version"}))
    return _out(change_site(actor=request.user, said=said, version=body.version))  # type: ignore[arg-type]


class Acknowledged(Schema):
    """One's own password, under what was lost by a restore."""

    own: str


@router.post("/restores/{id}", response=SessionOut, operation_id="acknowledgeRestore")
def acknowledge(request: HttpRequest, id: Id, body: Acknowledged) -> SessionOut:
    """Say that one knows of a restore, and of what is lost by it."""
    require(request.user, "site.change")  # type: ignore[arg-type]
    proven(
        request.user.get_username(),
        body.own,
        ("That is not your own password.", "Type it again.", "own"),
    )
    if not outside.acknowledge(id):
        raise NotFound("restore.unknown", "There is no such restore to know of.", "Reload.")
    return session_out(request)


@router.post("/start", response=SessionOut, auth=None, operation_id="startSite")
def start_site(request: HttpRequest, response: HttpResponse, body: StartIn) -> SessionOut:
    """Make the site and its first planner, who is signed in at once; once only."""
    if check_csrf(request) is not None:
        raise HttpError(403, "csrf")
    person = body.person.dict()
    password = person.pop("password")
    user = start.start(
        key=body.key,
        site=SiteGiven(**body.site.dict()),
        person=PersonGiven(**person),
        password=password,
    )
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    guessing.remember(request, response, user)
    return session_out(request)
