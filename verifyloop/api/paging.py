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

#: So many where nothing else is asked for.
PAGE = 40

#: The number of a row.
Id = Annotated[int, Path(ge=1, le=2**62)]


def place(total: int, page: int, per_page: int) -> tuple[int, int, slice]:
    """Return the page that there is, how many pages there are, and which rows stand on it."""
    pages = max(1, -(-total // per_page))
    page = min(max(1, page), pages)
    return page, pages, slice((page - 1) * per_page, page * per_page)
