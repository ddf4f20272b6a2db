"""Paper: blank forms of jobs, and labels with codes."""

from __future__ import annotations

from typing import Annotated

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Query, Router

from calibration.engine.method.family import fitting
from calibration.kernel.errors import InputError
from calibration.setup.asking import in_thought
from verifyloop.api.chosen import ChosenQuery
from verifyloop.api.described import file_of
from verifyloop.kit.models import Cylinder, Reference
from verifyloop.plant.facts import facts_of, parameters_of
from verifyloop.plant.finding import sought
from verifyloop.plant.selectors import instrument_by_tag, site_facts
from verifyloop.records.blank import blank_form
from verifyloop.records.labels import Label, label_sheet
from verifyloop.work.side_effects import own_now

router = Router(tags=["sheets"])
FILE = file_of("application/pdf")


def _pdf(content: bytes, name: str) -> HttpResponse:
    answer = HttpResponse(content, content_type="application/pdf")
    answer["Content-Disposition"] = f'inline; filename="{name}.pdf"'
    return answer


@router.get("/form/{tag}", response=str, openapi_extra=FILE, operation_id="blankForm")
def form(request: HttpRequest, tag: str, method: str = "") -> HttpResponse:
    """Return the paper form of a job on an instrument, by the method that is due or another."""
    one = instrument_by_tag(tag)
    today = timezone.localdate()
    facts = facts_of(one, rig=False, own=own_now(one, today))
    chosen = method or one.due_plans(today)[0].method
    known = {m for m, _ in fitting(facts)} | {p.method for p in one.plans.all()}
    if chosen not in known:
        raise InputError(
            "method.does_not_fit", "method", f"That method does not fit {tag}.", "Take another."
        )
    job = in_thought(facts, chosen, parameters_of(one, method=chosen), timezone.localtime())
    return _pdf(blank_form(job, site_facts(), str(today)), "form")


@router.get(
    "/labels/instruments", response=str, openapi_extra=FILE, operation_id="instrumentLabels"
)
def instrument_labels(
    request: HttpRequest, chosen: Annotated[ChosenQuery, Query()]
) -> HttpResponse:
    """Return labels of the instruments found, or of those named, each with a code that opens it."""
    found = sought(chosen.sought(), timezone.localdate())
    found = found.filter(tag__in=chosen.tags) if chosen.tags else found
    base = request.build_absolute_uri(settings.BASE_PATH)
    labels = (Label(i.tag, i.description, i.area.name, f"{base}instruments/{i.tag}") for i in found)
    return _pdf(label_sheet(labels), "labels")


@router.get("/labels/kit", response=str, openapi_extra=FILE, operation_id="kitLabels")
def kit_labels(request: HttpRequest) -> HttpResponse:
    """Return labels of everything in the kit, each with a code that opens it."""
    base = request.build_absolute_uri(settings.BASE_PATH)
    things: list[Reference | Cylinder] = [*Reference.objects.order_by("asset")]
    things += Cylinder.objects.order_by("asset")
    labels = (Label(t.asset, t.description, t.certificate, f"{base}kit/{t.asset}") for t in things)
    return _pdf(label_sheet(labels), "labels")
