"""What may stand in a question to a list."""

from __future__ import annotations

from typing import Annotated

from ninja import Path, Query

#: Words of a search: more than anybody types is a mistake.
Words = Annotated[str, Query(max_length=200)]

#: A page of a list; one that is not there is the last.
Page = Annotated[int, Query(ge=-(10**6), le=10**6)]

#: So many lines of a list at once.
PerPage = Annotated[int, Query(ge=1, le=200)]

#: The number of a row.
Id = Annotated[int, Path(ge=1, le=2**62)]
