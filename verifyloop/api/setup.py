"""Setting up instruments: forms from their families, a live check, new and changed records."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.db.models import Count
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from calibration.kernel.errors import InputError
from calibration.kernel.present import Entry
from calibration.setup.forms import family_of_method, sections, template_by_id, templates
from verifyloop.accounts.permissions import require
from verifyloop.api.problems import Problem
from verifyloop.plant import areas
from verifyloop.plant.models import Area
from verifyloop.plant.selectors import instrument_by_tag, site_now
from verifyloop.plant.setup import (
    change_instrument,
    create_instrument,
    record_of,
    version_of_record,
)
from verifyloop.work.fitting import fits

router = Router(tags=["setup"])


class TemplateOut(Schema):
    """What a new instrument may begin with."""

    id: str
    title: str
    kind: str


class SectionOut(Schema):
    """A part of the form."""

    id: str
    title: str
    entries: list[Entry]


class RecordFormOut(Schema):
    """A form with what stands in it."""

    #: method by which the kind of instrument is known
    base: str
    kind: str
    sections: list[SectionOut]
    record: dict[str, Any]
    #: state of the record that is changed; empty for a new one
    version: str


class RecordIn(Schema):
    """A record as typed, and the kind of instrument."""

    base: str
    record: dict[str, Any]
    #: of the instrument that is changed; empty for a new one
    tag: str = ""


class RecordChange(Schema):
    """A record as it is to be, the state that was read before, and why."""

    record: dict[str, Any]
    version: str
    reason: str


class FitLineOut(Schema):
    """One answer to "does it fit together?"."""

    mark: str
    text: str
    aside: str


class MethodFits(Schema):
    """A method that fits, and why."""

    id: str
    title: str
    why: str


class AskedPointOut(Schema):
    """One point that a job will ask for."""

    label: str
    apply: str
    ideal: str
    limit: str


class WillAskOut(Schema):
    """The first run of a job, as far as it is known now."""

    run: str
    steps: int
    points: int
    unit_in: str
    unit_out: str
    rows: list[AskedPointOut]


class FitsOut(Schema):
    """Everything that is said of a record while it is typed."""

    wrong: list[Problem]
    methods: list[MethodFits]
    lines: list[FitLineOut]
    asks: WillAskOut | None


class Stored(Schema):
    """The tag under which it is found."""

    tag: str


def as_problem(wrong: InputError) -> Problem:
    """Return a refusal as the API says it."""
    return Problem(
        code=wrong.code, message=wrong.message, field=wrong.field, remedy=wrong.remedy or ""
    )


def _with(entry: Entry, choices: dict[str, tuple[str, ...]]) -> Entry:
    """Return an entry with what the plant has to choose from, where that is known."""
    if entry.name not in choices:
        return entry
    own = choices[entry.name]
    return replace(entry, kind="choice", choices=own, choices_said=own)


def _form(base: str, record: dict[str, Any], version: str) -> RecordFormOut:
    family = family_of_method(base)
    found = sections(family)
    choices = {"area": tuple(a.name for a in areas.all_areas())}
    if version:
        # A plan is changed where it is shown, one by one.
        found = tuple(s for s in found if s.id != "plan")
    return RecordFormOut(
        base=base,
        kind=family.title or family.id.replace("_", " "),
        sections=[
            SectionOut(id=s.id, title=s.title, entries=[_with(e, choices) for e in s.entries])
            for s in found
        ],
        record=record,
        version=version,
    )


@router.get("/templates", response=list[TemplateOut], operation_id="getTemplates")
def get_templates(request: HttpRequest) -> list[TemplateOut]:
    """Return what new instruments may begin with."""
    return [
        TemplateOut(id=t.id, title=t.title, kind=family_of_method(t.method).title)
        for t in templates()
    ]


@router.get("/new", response=RecordFormOut, operation_id="newRecord")
def new_record(request: HttpRequest, template: str = "", like: str = "") -> RecordFormOut:
    """Return the form of a new instrument, from a template or as a copy."""
    if like:
        other = instrument_by_tag(like)
        record = {**record_of(other), "tag": "", "serial": "", "method": other.plan.method}
        return _form(other.plan.method, record, "")
    site = site_now()
    chosen = template_by_id(template, site.units if site else {})
    return _form(chosen.method, {**chosen.record, "method": chosen.method}, "")


@router.get(
    "/instruments/{tag}",
    response=RecordFormOut,
    operation_id="getRecord",
)
def get_record(request: HttpRequest, tag: str) -> RecordFormOut:
    """Return the record of an instrument with its form."""
    one = instrument_by_tag(tag)
    return _form(one.plan.method, record_of(one), version_of_record(one))


@router.post("/check", response=FitsOut, operation_id="checkRecord")
def check_record(request: HttpRequest, body: RecordIn) -> FitsOut:
    """Say what is wrong with a record, what fits, and what a job will ask; nothing is stored."""
    require(request.user, "plant.setup")  # type: ignore[arg-type]
    found = fits(record=body.record, base=body.base, tag=body.tag, now=timezone.now())
    return FitsOut(
        wrong=[as_problem(w) for w in found.wrong],
        methods=[MethodFits(id=id, title=title, why=why) for id, title, why in found.methods],
        lines=[FitLineOut(**vars(line)) for line in found.lines],
        asks=WillAskOut.from_orm(found.asks) if found.asks else None,
    )


@router.post("/instruments", response=Stored, operation_id="addRecord")
def add_record(request: HttpRequest, body: RecordIn) -> Stored:
    """Enter a new instrument."""
    made = create_instrument(
        actor=request.user,  # type: ignore[arg-type]
        base=body.base,
        record={"method": body.base, **body.record},
        now=timezone.now(),
    )
    return Stored(tag=made.tag)


@router.put("/instruments/{tag}", response=Stored, operation_id="putRecord")
def put_record(request: HttpRequest, tag: str, body: RecordChange) -> Stored:
    """Change the record of an instrument, with a reason for it."""
    changed = change_instrument(
        actor=request.user,  # type: ignore[arg-type]
        tag=tag,
        record=body.record,
        version=body.version,
        reason=body.reason,
        now=timezone.now(),
    )
    return Stored(tag=changed.tag)


class AreaLine(Schema):
    """An area, and how many instruments are in it."""

    name: str
    instruments: int


class AreaIn(Schema):
    """The name of an area."""

    name: str


class AreaOrder(Schema):
    """The areas in their new order, and in the one that was read."""

    names: list[str]
    before: list[str]


class AreaRename(Schema):
    """An area and its new name."""

    name: str
    to: str


def _areas() -> list[AreaLine]:
    found = Area.objects.annotate(count=Count("instruments")).order_by("order", "name")
    return [AreaLine(name=a.name, instruments=a.count) for a in found]


@router.get("/areas", response=list[AreaLine], operation_id="getAreas")
def get_areas(request: HttpRequest) -> list[AreaLine]:
    """Return the areas in the order of a round."""
    return _areas()


@router.post("/areas", response=list[AreaLine], operation_id="addArea")
def add_area(request: HttpRequest, body: AreaIn) -> list[AreaLine]:
    """Add an area at the end of the round."""
    areas.add_area(actor=request.user, name=body.name)  # type: ignore[arg-type]
    return _areas()


@router.put("/areas", response=list[AreaLine], operation_id="orderAreas")
def order_areas(request: HttpRequest, body: AreaOrder) -> list[AreaLine]:
    """Put the areas in another order."""
    areas.order_areas(actor=request.user, names=body.names, before=body.before)  # type: ignore[arg-type]
    return _areas()


@router.post("/areas/rename", response=list[AreaLine], operation_id="renameArea")
def rename_area(request: HttpRequest, body: AreaRename) -> list[AreaLine]:
    """Give an area another name."""
    areas.rename_area(actor=request.user, name=body.name, to=body.to)  # type: ignore[arg-type]
    return _areas()
