"""The API's own description: each answer by its status and its kind, with examples."""

from __future__ import annotations

from typing import Any

from django.urls import get_script_prefix
from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema

from verifyloop.api.examples import EXAMPLES
from verifyloop.api.problems import Problem

#: Where an endpoint says which kinds of file it answers with.
FILE = "x-file"
#: How the description calls a refusal, before its status.
NAME = "Refused"
JSON, BINARY = {"type": "object"}, {"type": "string", "format": "binary"}
#: Where it answers with one object a line, as the work goes on.
LINES = "x-lines"
#: Why something is refused, by status; every refusal has one body.
REFUSED = {
    "400": "What was sent cannot be read at all.",
    "401": "Nobody is signed in, or the token is not good for this.",
    "403": "The role does not allow it, the password is wrong, or the page is out of date.",
    "404": "There is no such thing, or no such address.",
    "409": "It was changed meanwhile: look again, then send it again.",
    "413": "That is too much at once.",
    "422": "A value is wrong: in which field, why, and what would be right.",
    "503": "The record store cannot be written, is full, damaged, or did not answer.",
}


def file_of(*kinds: str) -> dict[str, Any]:
    """Say that an endpoint answers with a file of one of some kinds."""
    return {FILE: list(kinds)}


class DescribedAPI(NinjaAPI):
    """Names every status of every way to ask, once here instead of at each."""

    def __init__(self, **more: Any) -> None:
        super().__init__(**more)
        self._documents: dict[tuple[Any, ...], OpenAPISchema] = {}

    def get_openapi_schema(self, **more: Any) -> OpenAPISchema:
        """Return the document; it is made once, as it takes a second."""
        asked = (get_script_prefix(), *sorted(more.items()))
        if asked not in self._documents:
            self._documents[asked] = self._document(**more)
        return self._documents[asked]

    def _document(self, **more: Any) -> OpenAPISchema:
        document = super().get_openapi_schema(**more)
        for ways in document["paths"].values():
            for way, call in ways.items():
                _say(way, call)
        document["components"]["responses"] = {NAME + s: _refusal(s) for s in REFUSED}
        return document


def _say(way: str, call: dict[str, Any]) -> None:
    """Complete the description of one way to ask."""
    good = {str(k): v for k, v in call["responses"].items() if str(k).startswith("2")}
    kinds = call.pop(FILE, [])
    if kinds:
        shapes = {
            kind: {"schema": JSON if kind == "application/json" else BINARY} for kind in kinds
        }
        good = {"200": {"description": "The file.", "content": shapes}}
    if call.pop(LINES, False):
        content = good["200"]["content"]
        content["application/x-ndjson"] = content.pop("application/json")
    example = EXAMPLES.get(call["operationId"], {})
    if "request" in example:
        call["requestBody"]["content"]["application/json"]["example"] = example["request"]
    if "answer" in example:
        good["200"]["content"]["application/json"]["example"] = example["answer"]
    call["responses"] = {**good, **{status: _named(status) for status in _refused(way, call)}}


def _refused(way: str, call: dict[str, Any]) -> list[str]:
    """Return the statuses by which one way to ask may be refused."""
    body = "requestBody" in call
    found = ["404", "422", "503"]
    if call.get("security") or way != "get":
        found += ["401", "403"]
    if way != "get":
        found += ["409"]
    if body:
        found += ["400", "413"]
    return sorted(found)


def _named(status: str) -> dict[str, Any]:
    return {"$ref": f"#/components/responses/{NAME}{status}"}


def _refusal(status: str) -> dict[str, Any]:
    shape = {"$ref": f"#/components/schemas/{Problem.__name__}"}
    return {"description": REFUSED[status], "content": {"application/json": {"schema": shape}}}
