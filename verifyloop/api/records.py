"""Signed records: finding, and the certificate in its formats."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone
from ninja import Query, Router, Schema

from calibration.engine.admission.amending import AMENDABLE
from calibration.kernel.rounding import show
from verifyloop.api.answers import as_made
from verifyloop.api.described import file_of
from verifyloop.api.paging import PAGE, Page, PerPage, place
from verifyloop.api.period import RecordsQuery
from verifyloop.plant.finding import area_names
from verifyloop.plant.site import order_link, order_pattern
from verifyloop.records import certificate, pdf
from verifyloop.records.csv import as_csv
from verifyloop.records.verify import check_job
from verifyloop.work.amending import amend
from verifyloop.work.at_hand import job_by_number
from verifyloop.work.models import Job
from verifyloop.work.projection import left_mark, said_of

router = Router(tags=["records"])


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
    work_order: str
    order_link: str
    references: list[str]
    #: what the error found may have affected: open, done, or none
    follow_up: str


class RecordsOut(Schema):
    """A page of records."""

    total: int
    page: int
    pages: int
    records: list[RecordOut]
    #: by which it may be narrowed down
    area_names: list[str]


class SealOut(Schema):
    """Whether a record is as it was written."""

    intact: bool
    text: str
    fingerprint: str


@router.get("", response=RecordsOut, operation_id="findRecords")
def find_records(
    request: HttpRequest, asked: Query[RecordsQuery], page: Page = 1, per_page: PerPage = PAGE
) -> HttpResponse:
    """Return signed jobs by words, mark, area and days, newest first."""
    found = asked.records()
    # Keys first, from an index where nothing else is asked for; then the rows of one page. Words
    # are looked for once: counting, and looking for the page, would each go through everything.
    keys = found.values_list("pk", flat=True)
    known = _newest_first(found) if asked.q.split() else None
    total = keys.count() if known is None else len(known)
    page, pages, here = place(total, page, per_page)
    those = _from_nearest_end(keys, here, total) if known is None else known[here]
    shown = Job.objects.select_related("instrument__area").filter(pk__in=those)
    orders = order_pattern()
    return as_made(
        RecordsOut.model_construct(
            total=total,
            page=page,
            pages=pages,
            records=[_record(j, orders) for j in shown.order_by("-signed_at", "pk")],
            area_names=area_names(),
        )
    )


def _newest_first(found: QuerySet[Job]) -> list[int]:
    """Return the keys of all that fit: they come unordered from the index that has the words."""
    rows = found.order_by().values_list("signed_at", "pk")
    return [pk for _, pk in sorted(rows, key=_newest)]


def _newest(row: tuple[datetime | None, int]) -> tuple[float, int]:
    at, pk = row
    return -at.timestamp() if at is not None else 0.0, pk


def _from_nearest_end(keys: QuerySet[Job, int], here: slice, total: int) -> list[int]:
    """Return the keys of a page, from the nearer end: what stands before it is gone through."""
    if here.start <= total // 2:
        return list(keys[here])
    return list(keys.reverse()[max(0, total - here.stop) : total - here.start])


def _record(j: Job, orders: str) -> RecordOut:
    assert j.signed_at is not None
    worst = "" if j.max_error_found is None else f"{show(j.max_error_found, 2, sign=True)} %"
    return RecordOut.model_construct(
        job=j.number,
        tag=j.instrument.tag,
        description=j.instrument.description,
        area=j.instrument.area.name,
        day=timezone.localdate(j.signed_at),
        signed_by=j.signed_by,
        status=j.status,
        mark_found=j.mark_found,
        mark_left=left_mark(j),
        outcome=said_of(j),
        max_found=worst,
        adjusted=j.adjusted,
        causes=j.causes,
        work_order=j.work_order,
        order_link=order_link(j.work_order, orders),
        references=j.references,
        follow_up=j.follow_up,
    )


@router.get(
    "/certificate.schema.json",
    auth=None,
    operation_id="certificateSchema",
    openapi_extra=file_of("application/json"),
)
def certificate_schema(request: HttpRequest) -> HttpResponse:
    """Return the JSON Schema of the certificate."""
    return JsonResponse(certificate.schema())


def _certificate(number: str, issue: int = 0) -> dict[str, Any]:
    return certificate.certificate_of(job_by_number(number), timezone.now(), issue)


class AmendIn(Schema):
    """What is put right in the words of a paper, and why; a password, as for a signature."""

    changes: dict[str, str]
    reason: str
    password: str = ""


class IssueOut(Schema):
    """One issue of a paper."""

    issue: int
    at: str
    by: str
    what: str
    reason: str


class WordOut(Schema):
    """One thing that a paper says in words."""

    id: str
    label: str
    value: str


class PaperOut(Schema):
    """The issues of a paper, and what of its words may be put right."""

    issues: list[IssueOut]
    words: list[WordOut]


@router.get("/{number}/issues", response=PaperOut, operation_id="paperIssues")
def paper_issues(request: HttpRequest, number: str) -> PaperOut:
    """Return every issue of a paper, and its words as they are."""
    return _paper(number)


@router.post("/{number}/issues", response=PaperOut, operation_id="amendPaper")
def amend_paper(request: HttpRequest, number: str, body: AmendIn) -> PaperOut:
    """Issue a paper again with its words put right; the issues before it stay."""
    amend(
        actor=request.user,  # type: ignore[arg-type]
        number=number,
        changes=body.changes,
        reason=body.reason,
        password=body.password,
        now=timezone.now(),
    )
    return _paper(number)


def _paper(number: str) -> PaperOut:
    paper = _certificate(number)
    return PaperOut(
        issues=[IssueOut(**one) for one in paper["issues"]],
        words=[
            WordOut(id=id, label=label, value=paper[part].get(key, ""))
            for id, (part, key, label) in AMENDABLE.items()
        ],
    )


def _file(content: bytes | str, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    response["Content-Disposition"] = f'inline; filename="{name}"'
    return response


@router.get(
    "/{number}/certificate.pdf",
    operation_id="certificatePdf",
    openapi_extra=file_of("application/pdf"),
)
def certificate_pdf(request: HttpRequest, number: str, issue: int = 0) -> HttpResponse:
    """Return the certificate as PDF."""
    photos = certificate.photos_of(job_by_number(number))
    content = pdf.render(_certificate(number, issue), photos)
    return _file(content, "application/pdf", f"{number}.pdf")


@router.get(
    "/{number}/certificate.json",
    operation_id="certificateJson",
    openapi_extra=file_of("application/json"),
)
def certificate_json(request: HttpRequest, number: str, issue: int = 0) -> HttpResponse:
    """Return the certificate as JSON."""
    return JsonResponse(
        _certificate(number, issue), json_dumps_params={"ensure_ascii": False, "indent": 2}
    )


@router.get(
    "/{number}/certificate.csv", operation_id="certificateCsv", openapi_extra=file_of("text/csv")
)
def certificate_csv(request: HttpRequest, number: str) -> HttpResponse:
    """Return the points as CSV."""
    return _file(as_csv(_certificate(number)), "text/csv; charset=utf-8", f"{number}.csv")


@router.get("/{number}/seal", response=SealOut, operation_id="checkSeal")
def check_seal(request: HttpRequest, number: str) -> SealOut:
    """Recompute the seals of one record."""
    job = job_by_number(number)
    found = [f"{f.where}: {f.what}" for f in check_job(job)]
    text = "; ".join(found) or f"{job.seq} events, every seal fits"
    return SealOut(intact=not found, text=text, fingerprint=job.head)
