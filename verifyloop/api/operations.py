"""Every computation of the core by its name, and what the Bench needs to show it."""

from __future__ import annotations

import json
from collections.abc import Callable
from decimal import Decimal
from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.request import RawPostDataException
from ninja import Router, Schema

from calibration.desk.finding import UNLISTED, listed, search
from calibration.kernel.codec import encode
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Bars, Chart, Sketch
from calibration.kernel.present import Entry, Shown, entries
from calibration.kernel.registry import OPERATIONS, Operation, find
from calibration.kernel.schema import schema
from calibration.operations import output_schema
from verifyloop.api.described import file_of
from verifyloop.api.paging import Words
from verifyloop.bench import services
from verifyloop.bench.tables import csv_of, pdf_of

router = Router(tags=["operations"])


class CalculatorOut(Schema):
    """A line of the Bench."""

    name: str
    title: str
    family: str


class CalculatorFound(CalculatorOut):
    """A calculator found, with the inputs that the words held."""

    given: dict[str, Any]


class TableStart(Schema):
    """First suggestion for a printed table."""

    vary: str
    start: str
    stop: str
    step: str
    columns: list[str]
    set: dict[str, Any] = {}


class FormOut(CalculatorOut):
    """One calculator: its form and what is said about it."""

    formula: str
    source: str
    cautions: list[str]
    inverse: str
    entries: list[Entry]
    example: dict[str, Any]
    table: TableStart | None
    one_of: list[str]


class WorkedOut(Schema):
    """How a result was computed."""

    formula: str
    worked: list[str]
    put_in: list[dict[str, str]]
    source: str


class BenchResult(Schema):
    """A result as the Bench shows it."""

    result: dict[str, Any]
    how: WorkedOut
    shown: Shown
    picture: Chart | Bars | Sketch | None
    text: str


class TableAsked(Schema):
    """A table of one calculator."""

    operation: str
    fixed: dict[str, Any]
    vary: str
    start: str
    stop: str
    step: str
    columns: list[str]


class TableShown(Schema):
    """A table as text."""

    title: str
    conditions: list[str]
    columns: list[str]
    rows: list[list[str]]
    source: str


@router.get("", response=list[CalculatorOut], operation_id="listOperations")
def list_operations(request: HttpRequest) -> list[CalculatorOut]:
    """Return all calculators, by family."""
    return [CalculatorOut(name=o.name, title=o.title, family=o.family) for o in listed()]


@router.get("/find", response=list[CalculatorFound], operation_id="findOperations")
def find_operations(request: HttpRequest, q: Words = "") -> list[CalculatorFound]:
    """Return the calculators that words mean, best first."""
    return [
        CalculatorFound(
            name=f.operation.name,
            title=f.operation.title,
            family=f.operation.family,
            given=dict(f.given),
        )
        for f in search(q)
    ]


@router.get("/{name}/form", response=FormOut, operation_id="getOperationForm")
def operation_form(request: HttpRequest, name: str) -> FormOut:
    """Return the form of one calculator."""
    op = find(name)
    if name in UNLISTED:
        raise InputError("operation.unlisted", "name", "It has no form.", "Choose another.")
    return FormOut(
        name=op.name,
        title=op.title,
        family=op.family,
        formula=op.formula,
        source=op.source,
        cautions=list(op.cautions),
        inverse=op.inverse,
        entries=list(entries(op.input_type)),
        example=encode(dict(op.example)),
        table=None if op.table is None else TableStart(**op.table),
        one_of=list(op.one_of),
    )


def _payload(request: HttpRequest) -> dict[str, Any]:
    try:
        payload = json.loads(request.body or b"{}", parse_float=Decimal)
    except (ValueError, RecursionError, RawPostDataException):
        raise InputError(
            "json.invalid", "input", "This is not JSON.", "Send one JSON object."
        ) from None
    if not isinstance(payload, dict):
        raise InputError("json.not_an_object", "input", "Send one JSON object.", "Use {…}.")
    return payload


def _json(data: object) -> HttpResponse:
    return JsonResponse(data, json_dumps_params={"ensure_ascii": False})


@router.post("/{name}/bench", response=BenchResult, operation_id="computeForBench")
def compute_for_bench(request: HttpRequest, name: str) -> HttpResponse:
    """Compute one operation, with figures as text and its picture."""
    return _json(services.on_the_bench(name, _payload(request)))


@router.post(
    "/table.make/shown",
    response=TableShown,
    operation_id="makeTable",
)
def make_table(request: HttpRequest, body: TableAsked) -> HttpResponse:
    """Return a table for the screen."""
    return _json(services.table(body.dict()))


@router.post("/table.make/csv", operation_id="tableAsCsv", openapi_extra=file_of("text/csv"))
def table_csv(request: HttpRequest, body: TableAsked) -> HttpResponse:
    """Return a table as CSV."""
    made = services.table(body.dict())
    return _file(csv_of(made), "text/csv; charset=utf-8", f"{body.operation}.csv")


@router.post("/table.make/pdf", operation_id="tableAsPdf", openapi_extra=file_of("application/pdf"))
def table_pdf(request: HttpRequest, body: TableAsked) -> HttpResponse:
    """Return a table as PDF."""
    made = services.table(body.dict())
    return _file(pdf_of(made), "application/pdf", f"{body.operation}.pdf")


def _file(content: bytes, kind: str, name: str) -> HttpResponse:
    answer = HttpResponse(content, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


def _compute(name: str) -> Callable[[HttpRequest], HttpResponse]:
    def compute(request: HttpRequest) -> HttpResponse:
        return _json(services.compute(name, _payload(request)))

    compute.__doc__ = find(name).title
    return compute


def _contract(op: Operation) -> dict[str, Any]:
    return {
        "summary": op.title,
        "description": f"{op.formula}\n\nSource: {op.source}",
        "requestBody": {
            "required": True,
            "content": {
                "application/json": {
                    "schema": schema(op.input_type, given=True),
                    "example": encode(dict(op.example)),
                }
            },
        },
        "responses": {
            200: {
                "description": "the result, and how it was computed",
                "content": {"application/json": {"schema": output_schema(op)}},
            },
        },
    }


for _op in sorted(OPERATIONS.values(), key=lambda op: op.name):
    router.post(
        f"/{_op.name}",
        operation_id="compute_" + _op.name.replace(".", "_"),
        openapi_extra=_contract(_op),
    )(_compute(_op.name))


@router.post("/{name}", include_in_schema=False)
def unknown_operation(request: HttpRequest, name: str) -> HttpResponse:
    """Refuse a name that no operation has."""
    return _json(services.compute(name, _payload(request)))
