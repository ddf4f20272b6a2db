"""Records of a period: as a table, or every certificate in one file."""

from __future__ import annotations

from datetime import date

from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Field, Query, Router, Schema

from calibration.kernel.errors import InputError
from verifyloop.api.described import file_of
from verifyloop.api.lists import TYPES
from verifyloop.errors import NotFound
from verifyloop.lists.sheets import write_csv, write_xlsx
from verifyloop.plant.selectors import site_now
from verifyloop.records.period import HEADINGS, MOST, packed, row_of
from verifyloop.register.who import while_streamed
from verifyloop.work.models import Job
from verifyloop.work.selectors import records

router = Router(tags=["records"])
EARLIEST, LATEST = date(1970, 1, 1), date(2199, 12, 31)


class RecordsQuery(Schema):
    """Which records: words, as-found mark or state, area, first and last day of signing."""

    q: str = Field("", max_length=200)
    mark: str = Field("", max_length=20)
    area: str = Field("", max_length=200)
    #: of one instrument
    tag: str = Field("", max_length=60)
    first: date | None = None
    last: date | None = None

    def records(self) -> QuerySet[Job]:
        """Return them, newest first."""
        for name, day in (("first", self.first), ("last", self.last)):
            if day is not None and not EARLIEST <= day <= LATEST:
                raise InputError("period.day", name, f"{day} is no day of a record.", "Check it.")
        if self.first is not None and self.last is not None and self.last < self.first:
            raise InputError(
                "period.order", "last", "It ends before it begins.", "Turn the days round."
            )
        return records(self.q, self.mark, self.area, self.tag, self.first, self.last)


@router.get(
    "/{name}",
    response=str,
    operation_id="recordsOfPeriod",
    openapi_extra=file_of(*TYPES.values(), "application/zip"),
)
def of_period(request: HttpRequest, name: str, asked: Query[RecordsQuery]) -> HttpResponseBase:
    """Return records.csv, records.xlsx, or certificates.zip with a manifest of hashes."""
    found = asked.records()
    if name == "certificates.zip":
        count = found.count()
        if not 1 <= count <= MOST:
            said = f"{count} certificates." if count else "There is no certificate to pack."
            raise InputError("period.size", "first", said, f"Choose a period with 1 to {MOST}.")
        work = while_streamed(packed(found.iterator(chunk_size=200), timezone.now()))
        answer: HttpResponseBase = StreamingHttpResponse(work, content_type="application/zip")
    elif name in ("records.csv", "records.xlsx"):
        site = site_now()
        comma = site is not None and site.decimal_sign == ","
        rows = [row_of(j, comma) for j in found]
        form = name.rpartition(".")[2]
        content = (
            write_csv(HEADINGS, rows, comma)
            if form == "csv"
            else write_xlsx([("Records", HEADINGS, rows)])
        )
        answer = HttpResponse(content, content_type=TYPES[form])
    else:
        raise NotFound("period.form", "There is no such file.", "Take records.csv.")
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer
