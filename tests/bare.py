"""What bare Django needs on the same server, database and rows: the least that any of it takes."""

from __future__ import annotations

import uuid

from django.db import transaction
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import path
from django.utils import timezone

from verifyloop.plant.models import Instrument
from verifyloop.work.models import Event, Job


def nothing(request: HttpRequest) -> HttpResponse:
    """Say who is signed in."""
    return JsonResponse({"name": request.user.get_username()})


def append(request: HttpRequest, number: str) -> HttpResponse:
    """Put a row behind those of a job; nothing is looked at."""
    with transaction.atomic():
        job = Job.objects.only("seq").get(number=number)
        Event.objects.create(
            job=job, seq=job.seq + 1, uuid=uuid.uuid4(), kind="noted", at=timezone.now(),
            by=request.user.get_username(), payload=request.body.decode(), seal="0",
        )  # fmt: skip
        Job.objects.filter(pk=job.pk).update(seq=job.seq + 1)
    return JsonResponse({"seq": job.seq + 1})


def rows(request: HttpRequest) -> HttpResponse:
    """Return a page of instruments."""
    found = Instrument.objects.order_by("tag").values("tag", "description", "area__name")[:50]
    return JsonResponse({"found": list(found)})


urlpatterns = [
    path("nothing", nothing),
    path("append/<str:number>", append),
    path("rows", rows),
]
