"""Papers and photos beside instruments, kit and jobs."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated
from urllib.parse import quote

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Form, Router, Schema, UploadedFile

from verifyloop.api.described import file_of
from verifyloop.errors import NotFound
from verifyloop.files import services
from verifyloop.files.checking import LARGEST, TYPES
from verifyloop.files.models import Attachment
from verifyloop.files.refusing import refused
from verifyloop.kit.setup import thing_by_asset
from verifyloop.plant.selectors import instrument_by_tag
from verifyloop.work.at_hand import job_by_number

router = Router(tags=["files"])
#: By what a file lies beside: how that is found.
FOUND: dict[str, Callable[[str], object]] = {
    "instrument": instrument_by_tag,
    "kit": thing_by_asset,
    "job": job_by_number,
}
#: A browser shows it, and lets it do nothing.
LOCKED = "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src 'self'"


class AttachmentOut(Schema):
    """One paper or photo."""

    id: int
    name: str
    kind: str
    size: int
    note: str
    by: str
    at: str
    #: shown behind the paper of its job; it may be where it is a photo of one
    on_paper: bool
    may_be: bool


class OnPaper(Schema):
    """Whether it is shown behind the paper."""

    on: bool


class Removal(Schema):
    """Why a file is taken away."""

    reason: str


def _out(one: Attachment) -> AttachmentOut:
    names = ("id", "name", "kind", "size", "note", "by")
    return AttachmentOut(
        **{n: getattr(one, n) for n in names},
        at=one.at.isoformat(),
        on_paper=one.on_paper,
        may_be=one.about == services.JOB and one.kind in services.PHOTOS,
    )


def _all(about: str, key: str) -> list[AttachmentOut]:
    if about not in FOUND:
        raise NotFound("file.about", "Files lie beside instruments, kit and jobs.", "Look there.")
    FOUND[about](key)
    return [_out(one) for one in services.beside(about, key)]


@router.get(
    "/content/{id}",
    response=str,
    operation_id="getFile",
    openapi_extra=file_of(*TYPES.values()),
)
def get_file(request: HttpRequest, id: int) -> HttpResponse:
    """Return the content of one; a browser lets it do nothing."""
    one = services.attachment(id)
    answer = HttpResponse(services.content_of(one), content_type=TYPES[one.kind])
    shown = "inline" if one.kind in ("jpg", "png") else "attachment"
    answer.headers["Content-Disposition"] = f"{shown}; filename*=UTF-8''{quote(one.name, safe='')}"
    answer.headers["Content-Security-Policy"] = LOCKED
    answer.headers["X-Content-Type-Options"] = "nosniff"
    return answer


@router.put(
    "/content/{id}/paper",
    response=list[AttachmentOut],
    operation_id="putOnPaper",
)
def put_on_paper(request: HttpRequest, id: int, body: OnPaper) -> list[AttachmentOut]:
    """Show a photo behind the paper of its job, or show it there no more."""
    one = services.put_on_paper(actor=request.user, id=id, on=body.on)  # type: ignore[arg-type]
    return _all(one.about, one.key)


@router.post(
    "/content/{id}/remove",
    response=list[AttachmentOut],
    operation_id="removeFile",
)
def remove_file(request: HttpRequest, id: int, body: Removal) -> list[AttachmentOut]:
    """Take a file away, with a reason; it is kept, and shown no more."""
    one = services.take_away(
        actor=request.user,  # type: ignore[arg-type]
        id=id,
        reason=body.reason,
        now=timezone.now(),
    )
    return _all(one.about, one.key)


@router.get(
    "/{about}/{key}",
    response=list[AttachmentOut],
    operation_id="getFiles",
)
def get_files(request: HttpRequest, about: str, key: str) -> list[AttachmentOut]:
    """Return what lies beside an instrument, a thing of the kit or a job."""
    return _all(about, key)


@router.post("/{about}/{key}", response=list[AttachmentOut], operation_id="addFile")
def add_file(
    request: HttpRequest,
    about: str,
    key: str,
    file: Annotated[UploadedFile, File()],
    note: Annotated[str, Form()] = "",
) -> list[AttachmentOut]:
    """Put a photo, a PDF or plain text beside something."""
    _all(about, key)
    if file.size is not None and file.size > LARGEST:
        raise refused("too_large", "The file is too large.", "Use at most 15 MB.")
    services.add_file(
        actor=request.user,  # type: ignore[arg-type]
        about=about,
        key=key,
        name=str(file.name or "file"),
        content=file.read(),
        note=note,
        now=timezone.now(),
    )
    return _all(about, key)
