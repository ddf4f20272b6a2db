"""What is planned at an instrument: methods, each with its date and its limits."""

from __future__ import annotations

from datetime import date

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from verifyloop.api.instruments import InstrumentOut, shown
from verifyloop.plant import services

router = Router(tags=["instruments"])


class MoveDue(Schema):
    """A new due date and why; of the first plan where no method is named."""

    due: date
    reason: str
    #: of the plan as it was read
    version: str
    method: str = ""


class ParameterIn(Schema):
    """A value for this instrument; empty goes back to the site's."""

    key: str
    value: str
    source: str = ""
    reason: str
    #: of the plan as it was read
    version: str
    method: str = ""


class PlanIn(Schema):
    """One more method, when it is due first, and why."""

    method: str
    due: date
    reason: str


class DropIn(Schema):
    """A method that is planned no more, and why."""

    method: str
    reason: str
    #: of the plan as it was read
    version: str


class OrderIn(Schema):
    """Number of a work order for the next job of a plan; empty for none."""

    method: str
    number: str
    #: of the plan as it was read
    version: str


@router.post(
    "/{tag}/work-order",
    response=InstrumentOut,
    operation_id="setWorkOrder",
)
def work_order(request: HttpRequest, tag: str, body: OrderIn) -> InstrumentOut:
    """Say by which work order the next job is done."""
    return shown(
        services.set_work_order(
            actor=request.user,  # type: ignore[arg-type]
            tag=tag,
            now=timezone.now(),
            **body.dict(),
        )
    )


@router.post("/{tag}/due", response=InstrumentOut, operation_id="moveDueDate")
def move_due(request: HttpRequest, tag: str, body: MoveDue) -> InstrumentOut:
    """Move the due date of a plan."""
    return shown(
        services.move_due_date(
            actor=request.user,  # type: ignore[arg-type]
            tag=tag,
            now=timezone.now(),
            **body.dict(),
        )
    )


@router.post(
    "/{tag}/parameters",
    response=InstrumentOut,
    operation_id="changeParameter",
)
def change_parameter(request: HttpRequest, tag: str, body: ParameterIn) -> InstrumentOut:
    """Set a parameter of a plan for one instrument."""
    return shown(
        services.change_parameter(
            actor=request.user,  # type: ignore[arg-type]
            tag=tag,
            now=timezone.now(),
            **body.dict(),
        )
    )


@router.post("/{tag}/plans", response=InstrumentOut, operation_id="planMethod")
def plan_method(request: HttpRequest, tag: str, body: PlanIn) -> InstrumentOut:
    """Plan one more method at an instrument."""
    return shown(
        services.plan_method(
            actor=request.user,  # type: ignore[arg-type]
            tag=tag,
            now=timezone.now(),
            **body.dict(),
        )
    )


@router.post("/{tag}/plans/drop", response=InstrumentOut, operation_id="dropPlan")
def drop_plan(request: HttpRequest, tag: str, body: DropIn) -> InstrumentOut:
    """Plan a method at an instrument no more."""
    return shown(
        services.drop_plan(
            actor=request.user,  # type: ignore[arg-type]
            tag=tag,
            now=timezone.now(),
            **body.dict(),
        )
    )
