"""What may stand in a question to a list."""

from __future__ import annotations

from typing import Annotated

from ninja import Query

#: Words of a search: more than anybody types is a mistake.
Words = Annotated[str, Query(max_length=200)]
