"""Lists in and out: a file is looked at row by row, then stored as a whole."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any

import orjson
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.utils import timezone
from ninja import File, Form, Query, Router, Schema, UploadedFile

from calibration.kernel.errors import InputError
from verifyloop.accounts.permissions import require
from verifyloop.api.chosen import ChosenQuery
from verifyloop.api.described import LINES, file_of
from verifyloop.api.paging import Id
from verifyloop.edge.health import worker_silent
from verifyloop.errors import DomainError, NotFound
from verifyloop.files.refusing import refused
from verifyloop.lists import services, storing
from verifyloop.lists.kinds import Row
from verifyloop.lists.models import Brought
from verifyloop.lists.sheets import LARGEST
from verifyloop.register.who import while_streamed

router = Router(tags=["lists"])
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
TYPES = {"csv": "text/csv; charset=utf-8", "xlsx": XLSX}


class ListColumn(Schema):
    """A column and what stands in it."""

    name: str
    label: str
    help: str


class ListOut(Schema):
    """One kind of list, and whether the person may bring one in."""

    id: str
    title: str
    key: str
    may: bool
    columns: list[ListColumn]


class SynonymIn(Schema):
    """What a heading stands for; an empty column leaves it out."""

    heading: str
    column: str


class Kept(Schema):
    """It is kept."""

    kept: bool


class Progress(Schema):
    """How far the work is; a line of the answer."""

    doing: str
    done: int
    total: int


@router.get("", response=list[ListOut], operation_id="getLists")
def get_lists(request: HttpRequest) -> list[ListOut]:
    """Return the lists there are, with their columns."""
    can = request.user
    found = []
    for kind in services.KINDS.values():
        columns = [ListColumn(name=c.name, label=c.label, help=c.help) for c in kind.columns()]
        found.append(
            ListOut(
                id=kind.id,
                title=kind.title,
                key=", ".join(kind.keys),
                may=may(can, kind.code),
                columns=columns,
            )
        )
    return found


def may(user: Any, code: str) -> bool:
    """Tell whether somebody may bring a list in."""
    try:
        require(user, code)
    except DomainError:
        return False
    return True


def _row(row: Row) -> dict[str, Any]:
    return {
        "row": row.number,
        "key": row.key,
        "fate": row.fate,
        "differs": [{"column": c, "before": b, "after": a} for c, (b, a) in row.differs.items()],
        "wrong": [
            {"field": w.field, "message": w.message, "remedy": w.remedy or ""} for w in row.wrong
        ],
    }


def _said(one: services.Step | services.Preview) -> dict[str, Any]:
    if isinstance(one, services.Step):
        return {"doing": one.doing, "done": one.done, "total": one.total}
    return {
        "mark": one.mark,
        "sums": dict(one.sums),
        "rows": [_row(r) for r in one.rows],
        "unknown": list(one.unknown),
        "kept": one.stored,
    }


def _lines(work: Iterator[services.Step | services.Preview]) -> Iterator[bytes]:
    """Yield a line of JSON for each step; a refusal on the way is a line as well."""
    try:
        for one in work:
            yield orjson.dumps(_said(one)) + b"\n"
    except (InputError, DomainError) as wrong:
        said = {"code": wrong.code, "message": wrong.message, "remedy": wrong.remedy or ""}
        yield orjson.dumps({"refused": {**said, "field": wrong.field or ""}}) + b"\n"


class BroughtOut(Schema):
    """A list that was brought in: how far it is, and what was skipped."""

    number: int
    kind: str
    name: str
    by: str
    at: str
    state: str
    done: int
    total: int
    skipped: list[str]
    why: str
    #: what nobody used since can be taken back
    may_take_back: bool
    #: it is stopped, and may go on
    may_go_on: bool
    #: so many rows were taken back, and which stayed since they were used
    taken_back: int
    kept: list[str]
    #: it waits, and no worker of background tasks answers
    forsaken: bool


def _brought(one: Brought) -> BroughtOut:
    return BroughtOut(
        number=one.pk,
        kind=one.kind,
        name=one.name,
        by=one.actor.display_name,
        at=one.at.isoformat(),
        state=one.state,
        done=one.done,
        total=one.total,
        skipped=one.said.get("skipped", [])[: storing.NAMED],
        why=one.said.get("message", ""),
        may_take_back=storing.may_take_back(one),
        may_go_on=one.state in storing.OPEN and not one.said.get("taken_back"),
        taken_back=one.said.get("taken_back", 0),
        kept=one.said.get("kept", [])[: storing.NAMED],
        forsaken=one.state == Brought.State.WAITING and bool(worker_silent()),
    )


@router.get("/brought", response=list[BroughtOut], operation_id="getBrought")
def get_brought(request: HttpRequest) -> list[BroughtOut]:
    """Return the lists that were brought in last, of those that one may bring in."""
    kinds = [k.id for k in services.KINDS.values() if may(request.user, k.code)]
    found = Brought.objects.filter(kind__in=kinds).select_related("actor").defer("content")
    return [_brought(one) for one in found.order_by("-pk")[:10]]


@router.post("/brought/{id}/stop", response=BroughtOut, operation_id="stopBrought")
def stop(request: HttpRequest, id: Id) -> BroughtOut:
    """Stop storing a list after the lot under way; what is stored stays."""
    return _brought(storing.stop(actor=request.user, number=id))  # type: ignore[arg-type]


@router.post("/brought/{id}/go-on", response=BroughtOut, operation_id="goOnBrought")
def go_on(request: HttpRequest, id: Id) -> BroughtOut:
    """Store what is not stored yet of a list that was stopped."""
    return _brought(storing.go_on(actor=request.user, number=id))  # type: ignore[arg-type]


class TakeBack(Schema):
    """Why what a list entered is taken back."""

    reason: str


@router.post("/brought/{id}/take-back", response=BroughtOut, operation_id="takeBackBrought")
def take_back(request: HttpRequest, id: Id, body: TakeBack) -> BroughtOut:
    """Take back what a list entered and nobody has used since."""
    one = storing.take_back(
        actor=request.user,  # type: ignore[arg-type]
        number=id,
        reason=body.reason,
    )
    return _brought(one)


@router.post(
    "/{kind}",
    response=Progress,
    operation_id="bringIn",
    openapi_extra={LINES: True},
)
def bring_in(
    request: HttpRequest,
    kind: str,
    file: Annotated[UploadedFile, File()],
    accept: Annotated[str, Form()] = "",
) -> Any:
    """Look at a file, or store it: lines of JSON that say how far it is, then what it does.

    ``accept`` is the mark of the preview; without it nothing is stored. It is stored in the
    background: it goes on where nobody waits for the answer.
    """
    if file.size is not None and file.size > LARGEST:
        raise refused("too_large", "The file is too large.", "Use at most 20 MB: split the list.")
    given: dict[str, Any] = {
        "actor": request.user,
        "kind": kind,
        "name": str(file.name or "list")[:120],
        "content": file.read(),
    }
    if accept:
        one = storing.accept(mark=accept, now=timezone.now(), **given)
        work = storing.followed(one.pk)
    else:
        work = services.previewed(services.look_at(**given))
    first = next(work)

    def whole() -> Iterator[services.Step | services.Preview]:
        yield first
        yield from work

    lines = while_streamed(_lines(whole()))
    return StreamingHttpResponse(lines, content_type="application/x-ndjson")


@router.post("/{kind}/synonyms", response=Kept, operation_id="keepSynonym")
def keep_synonym(request: HttpRequest, kind: str, body: SynonymIn) -> Kept:
    """Keep what a heading of the plant's own lists stands for."""
    services.keep_synonym(
        actor=request.user,  # type: ignore[arg-type]
        kind=kind,
        heading=body.heading,
        column=body.column,
    )
    return Kept(kept=True)


@router.get(
    "/{kind}/{name}",
    response=str,
    operation_id="takeOut",
    openapi_extra=file_of(*TYPES.values()),
)
def take_out(
    request: HttpRequest, kind: str, name: str, chosen: Annotated[ChosenQuery, Query()]
) -> HttpResponse:
    """Return list.csv, list.xlsx, or template.xlsx: empty, with every column explained.

    Of instruments, and of what is listed by them, all that fit or those that are named.
    """
    spec = services.kind_of_list(kind)
    if spec.code == "people.manage":
        require(request.user, spec.code)  # type: ignore[arg-type]
    stem, _, form = name.rpartition(".")
    if stem == "template" and form == "xlsx":
        content = services.template_of(kind)
    elif stem == "list" and form in TYPES:
        content = services.as_list(kind, form, chosen.only() if spec.keys[0] == "tag" else None)
    else:
        raise NotFound("list.form", "There is no such file.", "Take list.csv or list.xlsx.")
    answer = HttpResponse(content, content_type=TYPES[form])
    answer["Content-Disposition"] = f'attachment; filename="{kind}-{stem}.{form}"'
    return answer
