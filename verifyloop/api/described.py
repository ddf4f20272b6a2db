"""The API's own description: each answer by its status and its kind, with examples."""

from __future__ import annotations

import dataclasses
from typing import Any

from django.urls import get_script_prefix
from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema

import calibration.families  # noqa: F401  # registers them
from calibration.engine.job.events import KINDS
from calibration.engine.method.family import FAMILIES
from calibration.kernel.schema import schema
from verifyloop.api.examples import EXAMPLES
from verifyloop.api.problems import Problem

#: Where an endpoint says which kinds of file it answers with.
FILE = "x-file"
LICENSE = {"name": "Apache License 2.0", "identifier": "Apache-2.0"}
#: Bodies that hold the record of an instrument.
RECORDS = ("RecordIn", "RecordChange")
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
        self._documents: dict[tuple[str, str], OpenAPISchema] = {}

    def get_openapi_schema(self, **more: Any) -> OpenAPISchema:
        """Return the document; it is made once, as it takes a second."""
        # What it is asked with may be a mapping: its text is the key.
        asked = (get_script_prefix(), repr(sorted(more.items())))
        if asked not in self._documents:
            self._documents[asked] = self._document(**more)
        return self._documents[asked]

    def _document(self, **more: Any) -> OpenAPISchema:
        document = super().get_openapi_schema(**more)
        for ways in document["paths"].values():
            for way, call in ways.items():
                _say(way, call)
                # What nobody signs in for says so: silence would mean that it is not known.
                call.setdefault("security", [])
        document["servers"] = [{"url": get_script_prefix().rstrip("/") or "/"}]
        document["info"]["license"] = LICENSE
        _typed(document["components"]["schemas"])
        document["components"]["responses"] = {NAME + s: _refusal(s) for s in REFUSED}
        return document


def _typed(schemas: dict[str, Any]) -> None:
    """Say what an entry of each kind holds, and what each family knows of its instruments."""
    held = {f"Entry {kind}".title().replace(" ", "").replace("_", ""): cls for kind, cls in _sent()}
    facts = {
        f"Facts {family.id}".title().replace(" ", "").replace("_", ""): family.facts
        for family in FAMILIES.values()
        if family.facts is not None
    }
    for name, cls in (held | facts).items():
        schemas[name] = _open(schema(cls, given=True), cls)
    data, record = _one_of(held), _one_of(facts)
    schemas["EventIn"]["properties"]["kind"]["enum"] = [kind for kind, _ in _sent()]
    schemas["EventIn"]["properties"]["data"] = {"title": "Data", **data}
    for name, one in schemas.items():
        typed = one.get("properties", {}).get("record")
        if name in RECORDS and typed is not None:
            typed["properties"] = {"own": {"title": "Own", **record}}


def _open(found: dict[str, Any], cls: type) -> dict[str, Any]:
    """Return a schema; a kind that a family adds to may hold more."""
    swept = any(field.metadata.get("sweeps") for field in dataclasses.fields(cls))
    return {**found, "additionalProperties": True} if swept else found


def _one_of(named: dict[str, Any]) -> dict[str, Any]:
    return {"anyOf": [{"$ref": f"#/components/schemas/{name}"} for name in named]}


def _sent() -> list[tuple[str, type]]:
    """Return the kinds of entry that a client sends; the server makes the others by itself."""
    return [(kind, cls) for kind, cls in sorted(KINDS.items()) if kind not in ("opened", "issued")]


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
