"""What a list is asked: its columns, its rows as they are, what a row would do, and to do it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Literal, Protocol

from calibration.kernel.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.lists.columns import Column

Fate = Literal["new", "changed", "unchanged", "refused"]


@dataclass
class Row:
    """A row of a file: what stands in it, and what becomes of it."""

    number: int
    key: str
    fate: Fate = "unchanged"
    record: dict[str, Any] = field(default_factory=dict)
    #: by column what was and what is to be
    differs: dict[str, tuple[str, str]] = field(default_factory=dict)
    wrong: list[InputError] = field(default_factory=list)


class ListKind(Protocol):
    """One kind of list."""

    id: str
    title: str
    #: the columns by which a row is found again; the first is never empty
    keys: tuple[str, ...]
    #: who may bring one in
    code: str

    def columns(self) -> list[Column]:
        """Return every column."""
        ...

    def records(self) -> Iterator[tuple[str, dict[str, Any]]]:
        """Yield everything there is by its key, in the order of the key."""
        ...

    def judge(self, rows: Sequence[Row], before: Mapping[str, dict[str, Any]]) -> Iterable[int]:
        """Say of each row what is wrong with it; yields how many are done, now and then."""
        ...

    def store(self, rows: Sequence[Row], actor: User, why: str, now: datetime) -> Iterable[int]:
        """Do what new and changed rows say; yields how many are done, now and then."""
        ...
