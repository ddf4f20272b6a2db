"""Finding instruments, and one of them with its history."""

from __future__ import annotations

from datetime import datetime

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Schema

import calibration.families  # noqa: F401  # registers them
from calibration.engine.method.family import family_by_facts, fitting, newest
from verifyloop.api.answers import as_made
from verifyloop.api.kit import SensorOut
from verifyloop.api.methods import choices_said, said_of
from verifyloop.api.paging import PAGE, Page, PerPage, Words, place
from verifyloop.api.past import PastOut, all_past
from verifyloop.api.validity import (
    HappenedOut,
    HappeningOut,
    OwnLogOut,
    StandingOut,
    own_log,
    standing_out,
)
from verifyloop.plant import services
from verifyloop.plant.facts import LOOP_ROLES, facts_of, parameters_of, range_text, tolerance_text
from verifyloop.plant.finding import STATES, Sought, area_names, kinds_there, sought
from verifyloop.plant.models import Change, Instrument, Plan
from verifyloop.plant.selectors import instrument_by_tag
from verifyloop.plant.site import order_link, order_pattern
from verifyloop.register.kept import version_of
from verifyloop.rigs.models import Rig
from verifyloop.work.models import Job
from verifyloop.work.sensors import sensors_of
from verifyloop.work.side_effects import own_now

router = Router(tags=["instruments"])


class FoundOut(Schema):
    """A line of the list."""

    tag: str
    description: str
    area: str
    range: str
    tolerance: str
    next_due: str
    last_on: str
    last_mark: str


class StateOut(Schema):
    """How an instrument may stand."""

    id: str
    label: str


class SearchOut(Schema):
    """The lines found, a page of them."""

    total: int
    page: int
    pages: int
    found: list[FoundOut]
    #: by which it may be narrowed down
    area_names: list[str]
    kinds: list[str]
    states: list[StateOut]


class LimitOut(Schema):
    """A limit with its source."""

    id: str
    kind: str
    choices: list[str]
    #: the same as people say them
    choices_said: list[str]
    own: bool
    label: str
    value: str
    #: its value as people say it
    said: str
    unit: str
    source: str


class ChangeOut(Schema):
    """A change to the plan."""

    at: str
    by: str
    text: str


class MethodChoice(Schema):
    """A method that fits the instrument, and why."""

    id: str
    title: str
    short: str
    why: str


class RecordLine(Schema):
    """A setting or dimension on record."""

    label: str
    value: str


class PlanOut(Schema):
    """One thing that is done at the instrument, when it is due and by which limits."""

    method: MethodChoice
    next_due: str
    due_reason: str
    limits: list[LimitOut]
    #: another one says that it was changed
    version: str
    #: order by which the next job is done, and where it is looked up; empty where not known
    work_order: str
    order_link: str


class ProposalOut(Schema):
    """What a job found otherwise than on record; a planner decides."""

    id: int
    job: str
    label: str
    before: str
    after: str
    reason: str
    by: str


class InstrumentOut(Schema):
    """One instrument."""

    #: what a job begun now is by default, and all that fit
    method: MethodChoice
    methods: list[MethodChoice]
    plans: list[PlanOut]
    record: list[RecordLine]
    sensors: list[SensorOut]
    tag: str
    serial: str
    description: str
    area: str
    range: str
    output: str
    tolerance: str
    tolerance_source: str
    loop_role: str
    caution: str
    smart: bool
    rig: bool
    next_due: str
    due_reason: str
    #: since when, how it is left and who has it; empty while it is in service
    out_of_service: str
    open_job: str
    limits: list[LimitOut]
    past: list[PastOut]
    changes: list[ChangeOut]
    proposals: list[ProposalOut]
    #: none where results hold until the instrument is due
    standing: StandingOut | None
    happenings: list[HappeningOut]
    happened: list[HappenedOut]
    #: what it does by itself while nobody is there; none where nothing is known to
    by_itself: OwnLogOut | None


@router.get("", response=SearchOut, operation_id="findInstruments")
def find_instruments(
    request: HttpRequest,
    q: Words = "",
    area: Words = "",
    kind: Words = "",
    state: Words = "",
    page: Page = 1,
    per_page: PerPage = PAGE,
) -> HttpResponse:
    """Return a page of the instruments by words, area, kind, and how they stand."""
    found = sought(Sought(q, area, kind, state), timezone.localdate())
    # All keys in one look: counting, and looking for the page, would each go through everything.
    keys = list(found.values_list("pk", flat=True))
    page, pages, here = place(len(keys), page, per_page)
    shown = found.filter(pk__in=keys[here]) if keys else ()
    return as_made(
        SearchOut.model_construct(
            total=len(keys),
            page=page,
            pages=pages,
            found=[_line(i) for i in shown],
            area_names=area_names(),
            kinds=kinds_there(),
            states=[StateOut(id=id, label=label) for id, label in STATES.items()],
        )
    )


def _line(i: Instrument) -> FoundOut:
    return FoundOut.model_construct(
        tag=i.tag,
        description=i.description,
        area=i.area.name,
        range=range_text(i),
        tolerance=tolerance_text(i),
        next_due="out of service" if i.out_of_service else _next_due(i),
        last_on=str(i.last_on or ""),
        last_mark=i.last_mark_left,
    )


def _next_due(i: Instrument) -> str:
    return str(min((p.next_due for p in i.plans.all() if p.next_due), default=""))


class Why(Schema):
    """A reason."""

    reason: str


@router.get("/{tag}", response=InstrumentOut, operation_id="getInstrument")
def get_instrument(request: HttpRequest, tag: str) -> HttpResponse:
    """Return one instrument with limits, their sources, and its history."""
    return as_made(shown(instrument_by_tag(tag)))


@router.post("/{tag}/back", response=InstrumentOut, operation_id="backInService")
def back_in_service(request: HttpRequest, tag: str, body: Why) -> InstrumentOut:
    """Take a planner's word that an instrument is in service again."""
    return shown(
        services.back_in_service(
            actor=request.user,  # type: ignore[arg-type]
            tag=tag,
            reason=body.reason,
            now=timezone.now(),
        )
    )


def shown(i: Instrument) -> InstrumentOut:
    running = Job.objects.filter(instrument=i, status=Job.Status.OPEN).first()
    methods = _methods(i)
    first = i.due_plans(timezone.localdate())[0]
    plans = [_plan(i, p, methods) for p in i.plans.all()]
    return InstrumentOut.model_construct(
        method=next(m for m in methods if m.id == first.method),
        methods=methods,
        plans=plans,
        record=_record(i),
        sensors=[SensorOut.from_orm(s) for s in sensors_of(i)],
        tag=i.tag,
        serial=i.serial,
        description=i.description,
        area=i.area.name,
        range=range_text(i),
        output=f"{i.output_lower} to {i.output_upper} {i.output_unit}",
        tolerance=tolerance_text(i),
        tolerance_source=i.tolerance_source,
        loop_role=LOOP_ROLES.get(i.loop_role, i.loop_role),
        caution=i.caution,
        smart=i.smart,
        rig=Rig.objects.filter(instrument=i).exists(),
        next_due=str(first.next_due or ""),
        due_reason=first.due_reason,
        out_of_service=_out(i),
        open_job=running.number if running else "",
        limits=next(p.limits for p in plans if p.method.id == first.method),
        past=all_past(i),
        changes=[_change(c) for c in i.changes.order_by("-at")[:20]],
        proposals=[ProposalOut.from_orm(p) for p in i.proposals.filter(outcome="").order_by("at")],
        **standing_out(i),
        by_itself=own_log(i),
    )


def _out(i: Instrument) -> str:
    """Return in words how an instrument stands that is not in service."""
    if i.out_of_service is None:
        return ""
    how = i.out_of_service
    said = [f"since {timezone.localtime(datetime.fromisoformat(how['since'])):%Y-%m-%d}"]
    said += [*how["on"], how["left"]]
    said += [f"{name} {how[key]}" for name, key in (("with", "to"), ("tag", "tag")) if how[key]]
    return ", ".join(dict.fromkeys(text for text in said if text))


def _methods(i: Instrument) -> list[MethodChoice]:
    fit = fitting(facts_of(i, rig=False))
    chosen = (p.method for p in i.plans.all() if p.method not in dict(fit))
    fit = (*fit, *((id, "chosen for this instrument") for id in chosen))
    return [
        MethodChoice(id=id, title=newest(id).title, short=newest(id).short, why=why)
        for id, why in fit
    ]


def _record(i: Instrument) -> list[RecordLine]:
    lines = [
        RecordLine(
            label=s["label"] or s["name"],
            value=f"{s['value']} {s.get('unit', '')}".strip().replace("_", " "),
        )
        for s in i.settings
    ]
    facts = facts_of(i, rig=False, own=own_now(i, timezone.localdate()))
    family = family_by_facts(facts)
    if family is not None:
        lines += [RecordLine(label=r.label, value=r.value) for r in family.said.plate(facts)]
    if i.sensor:
        wires = f", {i.wires} wires" if i.sensor.startswith("Pt") else ""
        kind = i.sensor if wires else f"thermocouple type {i.sensor}"
        lines.insert(0, RecordLine(label="Sensor", value=f"{kind}{wires}"))
    if i.indicated_unit:
        shown = f"{i.indicated_lower} to {i.indicated_upper} {i.indicated_unit}"
        root = "square_root" in (i.characteristic, i.indicated_characteristic)
        where = "transmitter" if i.characteristic == "square_root" else "receiver"
        lines.append(RecordLine(label="Control room", value=shown))
        if root:
            lines.append(RecordLine(label="Root taken in the", value=where))
    return lines


def _plan(i: Instrument, plan: Plan, methods: list[MethodChoice]) -> PlanOut:
    return PlanOut.model_construct(
        method=next(m for m in methods if m.id == plan.method),
        next_due=str(plan.next_due or ""),
        due_reason=plan.due_reason,
        limits=_limits(i, plan),
        version=version_of(plan),
        work_order=plan.work_order,
        order_link=order_link(plan.work_order, order_pattern()),
    )


def _limits(i: Instrument, plan: Plan) -> list[LimitOut]:
    parameters = parameters_of(i, method=plan.method)
    return [
        LimitOut.model_construct(
            id=spec.id,
            kind=spec.kind,
            choices=list(spec.choices),
            choices_said=choices_said(spec),
            own=spec.id in plan.parameters,
            label=spec.label,
            value=parameters[spec.id].value,
            said=said_of(spec, parameters[spec.id].value),
            unit=parameters[spec.id].unit,
            source=parameters[spec.id].source,
        )
        for spec in newest(plan.method).parameters
    ]


def _change(c: Change) -> ChangeOut:
    return ChangeOut(
        at=c.at.isoformat(),
        by=c.by,
        text=f"{c.field}: {c.before or 'none'} to {c.after}, because: {c.reason}",
    )
