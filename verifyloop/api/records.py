"""Signed records: finding, and the certificate in its formats."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone
from ninja import Router, Schema

from calibration.engine.outcome import GOOD, WORDS
from calibration.kernel.rounding import show
from verifyloop.api.problems import PROBLEMS, Problem
from verifyloop.records import certificate, pdf
from verifyloop.records.csv import as_csv
from verifyloop.work.audit import check_job
from verifyloop.work.models import Job
from verifyloop.work.projection import left_mark
from verifyloop.work.selectors import records
from verifyloop.work.services import job_by_number

router = Router(tags=["records"])
PAGE = 40


class RecordOut(Schema):
    """A signed job."""

    job: str
    tag: str
    description: str
    area: str
    day: date
    signed_by: str
    status: str
    mark_found: str
    mark_left: str
    #: what the job came to, in words; empty where the marks say it all
    outcome: str
    max_found: str
    adjusted: bool
    causes: str
    references: list[str]


class RecordsOut(Schema):
    """A page of records."""

    total: int
    page: int
    pages: int
    records: list[RecordOut]


class SealOut(Schema):
    """Whether a record is as it was written."""

    intact: bool
    text: str
    fingerprint: str


@router.get("", response=RecordsOut, operation_id="findRecords")
def find_records(request: HttpRequest, q: str = "", mark: str = "", page: int = 1) -> RecordsOut:
    """Return signed jobs by words and mark, newest first."""
    found = records(q, mark)
    total = found.count()
    pages = max(1, -(-total // PAGE))
    page = min(max(1, page), pages)
    rows = found[(page - 1) * PAGE : page * PAGE]
    return RecordsOut(total=total, page=page, pages=pages, records=[_record(j) for j in rows])


def _record(j: Job) -> RecordOut:
    assert j.signed_at is not None
    worst = "" if j.max_error_found is None else f"{show(j.max_error_found, 2, sign=True)} %"
    return RecordOut(
        job=j.number,
        tag=j.instrument.tag,
        description=j.instrument.description,
        area=j.instrument.area.name,
        day=j.signed_at.date(),
        signed_by=j.signed_by,
        status=j.status,
        mark_found=j.mark_found,
        mark_left=left_mark(j),
        outcome="" if j.outcome in GOOD else WORDS[j.outcome],
        max_found=worst,
        adjusted=j.adjusted,
        causes=j.causes,
        references=j.references,
    )


@router.get("/certificate.schema.json", auth=None, operation_id="certificateSchema")
def certificate_schema(request: HttpRequest) -> HttpResponse:
    """Return the JSON Schema of the certificate."""
    return JsonResponse(certificate.schema())


def _certificate(number: str) -> dict[str, Any]:
    return certificate.certificate_of(job_by_number(number), timezone.now())


def _file(content: bytes | str, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    response["Content-Disposition"] = f'inline; filename="{name}"'
    return response


@router.get("/{number}/certificate.pdf", operation_id="certificatePdf")
def certificate_pdf(request: HttpRequest, number: str) -> HttpResponse:
    """Return the certificate as PDF."""
    return _file(pdf.render(_certificate(number)), "application/pdf", f"{number}.pdf")


@router.get("/{number}/certificate.json", operation_id="certificateJson")
def certificate_json(request: HttpRequest, number: str) -> HttpResponse:
    """Return the certificate as JSON."""
    return JsonResponse(
        _certificate(number), json_dumps_params={"ensure_ascii": False, "indent": 2}
    )


@router.get("/{number}/certificate.csv", operation_id="certificateCsv")
def certificate_csv(request: HttpRequest, number: str) -> HttpResponse:
    """Return the points as CSV."""
    return _file(as_csv(_certificate(number)), "text/csv; charset=utf-8", f"{number}.csv")


@router.get("/{number}/seal", response={200: SealOut, PROBLEMS: Problem}, operation_id="checkSeal")
def check_seal(request: HttpRequest, number: str) -> SealOut:
    """Recompute the seals of one record."""
    job = job_by_number(number)
    broken = check_job(job)
    text = (
        f"{job.seq} events, every seal fits"
        if broken is None
        else f"Event {broken.seq}: {broken.what}"
    )
    return SealOut(intact=broken is None, text=text, fingerprint=job.head)
