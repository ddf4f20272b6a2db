"""The records of a period, to give away: a table, or every certificate with a manifest."""

from __future__ import annotations

import csv
import hashlib
import io
import re
import zipfile
from collections.abc import Iterable, Iterator
from datetime import datetime

from django.utils import timezone

from calibration.kernel.rounding import show
from verifyloop.records.certificate import certificate_of, photos_of
from verifyloop.records.pdf import render
from verifyloop.work.models import Job
from verifyloop.work.projection import left_mark, said_of

#: So many certificates are in one file at most.
MOST = 2000
HEADINGS = (
    "job",
    "tag",
    "description",
    "area",
    "method",
    "signed on",
    "signed by",
    "status",
    "as found",
    "as left",
    "outcome",
    "largest error found, % of span",
    "largest error left, % of span",
    "limit, % of span",
    "adjusted",
    "causes",
    "work order",
    "references",
    "seal",
)


def row_of(job: Job, comma: bool = False) -> list[str]:
    """Return what a table says of a signed job; a figure that was not measured is empty.

    ``comma``: figures have the decimal sign of a site that writes one.
    """

    def figure(value: float | None) -> str:
        said = "" if value is None else show(value, 4).replace("−", "-")
        return said.replace(".", ",") if comma else said

    assert job.signed_at is not None
    errors = (job.max_error_found, job.max_error_left, job.limit_percent)
    return [
        job.number,
        job.instrument.tag,
        job.instrument.description,
        job.instrument.area.name,
        job.method,
        str(timezone.localdate(job.signed_at)),
        job.signed_by,
        job.status,
        job.mark_found,
        left_mark(job),
        said_of(job),
        *(figure(value) for value in errors),
        "yes" if job.adjusted else "no",
        job.causes,
        job.work_order,
        "; ".join(job.references),
        job.head,
    ]


class _Sink:
    """Takes what is written, and gives it away bit by bit."""

    def __init__(self) -> None:
        self.parts: list[bytes] = []

    def write(self, content: bytes) -> int:
        """Take some."""
        self.parts.append(bytes(content))
        return len(content)

    def flush(self) -> None:
        """Nothing waits."""

    def taken(self) -> bytes:
        """Give away what was written since the last time."""
        found, self.parts = b"".join(self.parts), []
        return found


def packed(jobs: Iterable[Job], now: datetime) -> Iterator[bytes]:
    """Yield a ZIP of the certificates, bit by bit, with a manifest of hashes at its end.

    The manifest names of each file its SHA-256, and the seal of the job that it says.
    """
    sink, manifest = _Sink(), [["file", "sha256", "job", "issue", "seal"]]
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_STORED) as out:  # type: ignore[call-overload]
        for job in jobs:
            paper = certificate_of(job, now)
            issue = paper["issue"]["number"]
            tag = re.sub(r"[^A-Za-z0-9._-]", "_", job.instrument.tag)
            name = f"{tag}/{job.number}-issue-{issue}.pdf"
            content = render(paper, photos_of(job))
            out.writestr(_entry(name, job.signed_at or now), content)
            digest = hashlib.sha256(content).hexdigest()
            manifest.append([name, digest, job.number, str(issue), paper["chain"]["seal"]])
            yield sink.taken()
        said = io.StringIO()
        csv.writer(said).writerows(manifest)
        out.writestr(_entry("manifest.csv", now), said.getvalue())
    yield sink.taken()


def _entry(name: str, at: datetime) -> zipfile.ZipInfo:
    local = timezone.localtime(at)
    return zipfile.ZipInfo(name, date_time=local.timetuple()[:6])
