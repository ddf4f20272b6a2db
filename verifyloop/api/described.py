"""The API's own description: beside each answer the refusals, which all have one body."""

from __future__ import annotations

from typing import Any

from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema

from verifyloop.api.problems import Problem

REFUSED = "Refused: what is wrong, in which field, and what to do."
AWAY = "The record store cannot be written, is full, damaged, or did not answer."


def _refusal(said: str) -> dict[str, Any]:
    shape = {"$ref": f"#/components/schemas/{Problem.__name__}"}
    return {"description": said, "content": {"application/json": {"schema": shape}}}


class DescribedAPI(NinjaAPI):
    """Says of every way to ask that it may be refused, instead of each saying it by number."""

    def get_openapi_schema(self, **more: Any) -> OpenAPISchema:
        """Return the document; ``4XX`` are refusals, ``503`` is the record store."""
        document = super().get_openapi_schema(**more)
        for ways in document["paths"].values():
            for call in ways.values():
                good = {str(k): v for k, v in call["responses"].items() if str(k).startswith("2")}
                call["responses"] = {**good, "4XX": _refusal(REFUSED), "503": _refusal(AWAY)}
        return document
