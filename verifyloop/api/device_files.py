"""Files of devices, read into the fields of the present step."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Schema

from calibration.engine.files.device_file import Mapped
from verifyloop.api.described import file_of
from verifyloop.work import device_files
from verifyloop.work.at_hand import job_by_number
from verifyloop.work.written_files import written

router = Router(tags=["jobs"])
SAMPLES = 3


class PlaceIn(Schema):
    """Where a column is found, and its unit there."""

    header: str
    unit: str = ""


class FileIn(Schema):
    """A file as it was chosen; its columns where a person says which is which."""

    name: str
    #: base64
    content: str
    columns: dict[str, PlaceIn] | None = None


class HeaderOut(Schema):
    """One column of the file with its first values."""

    header: str
    samples: list[str]


class ColumnOut(Schema):
    """One column that is read, and where it seems to be."""

    id: str
    label: str
    required: bool
    units: list[str]
    header: str
    unit: str


class FileOut(Schema):
    """What the file says; or which of its columns are to be named first."""

    digest: str
    values: dict[str, str]
    said: list[str]
    asks: bool
    columns: list[ColumnOut]
    headers: list[HeaderOut]


@router.post("/{number}/file", response=FileOut, operation_id="readFile")
def read_file(request: HttpRequest, number: str, body: FileIn) -> FileOut:
    """Read a file that the device wrote for the present step; nothing is entered by it."""
    said = {id: p.dict() for id, p in body.columns.items()} if body.columns is not None else None
    content = device_files.content_of(body.content)
    found = device_files.look(
        actor=request.user,  # type: ignore[arg-type]
        job=job_by_number(number),
        sent=device_files.Sent(body.name, content, said),
        now=timezone.now(),
    )
    rows = [cells for _, cells in found.table.rows[:SAMPLES]]
    nowhere = Mapped(header="")
    return FileOut(
        digest=found.digest,
        values=found.values,
        said=list(found.said),
        asks=found.asks,
        columns=[
            ColumnOut(
                id=column.id,
                label=column.label,
                required=column.required,
                units=list(column.units),
                header=found.columns.get(column.id, nowhere).header,
                unit=found.columns.get(column.id, nowhere).unit,
            )
            for column in found.form.columns
        ],
        headers=[
            HeaderOut(header=header, samples=[cells[n] for cells in rows if n < len(cells)])
            for n, header in enumerate(found.table.headers)
            if header
        ],
    )


@router.get(
    "/{number}/file",
    operation_id="simulatedFile",
    openapi_extra=file_of("text/csv"),
    response=str,
)
def simulated_file(request: HttpRequest, number: str) -> HttpResponse:
    """Return the file that the simulated device has written of its newest run."""
    job = job_by_number(number)
    answer = HttpResponse(written(job, timezone.now()), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{job.number}-run.csv"'
    return answer
