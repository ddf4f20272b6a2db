"""One writer at a time on what everything rests on, whichever database keeps it.

SQLite lets one in at a time by itself. PostgreSQL lets many in: who changes plan, rules, kit,
people or the register takes the turn first, and has it until what was written is there for all.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection, transaction

#: Any number, the same everywhere.
TURN = 1_986_356_079


def take_turn() -> None:
    """Wait until nobody else has the turn, and have it until the transaction ends."""
    if connection.vendor == "postgresql":
        with connection.cursor() as cursor:
            cursor.execute("SELECT pg_advisory_xact_lock(%s)", [TURN])


@contextmanager
def writing() -> Iterator[None]:
    """All or nothing, and nobody else meanwhile: what is read within it stays true until its end.

    Also as a decorator: ``@writing()``.
    """
    with transaction.atomic():
        take_turn()
        yield
