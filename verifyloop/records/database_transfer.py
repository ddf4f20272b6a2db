"""All rows from one database into another: a backup is one file of SQLite, whatever keeps the data.

So a copy of a PostgreSQL is restored onto a single machine, and a site that outgrows SQLite moves
by backup and restore. Rows go as they are: no line of the register is written for them.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from itertools import islice
from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.core.management.color import no_style
from django.db import connections, models, transaction
from django.db.migrations.recorder import MigrationRecorder

#: The other database, while rows are carried.
OTHER = "carried"
#: Rows that are carried at once.
LOT = 1000


class CarryError(Exception):
    """Rows that cannot be carried; says what to do."""


def tables() -> list[type[models.Model]]:
    """Return every table of the product and of its packages, and that of its migrations."""
    every = [m for m in apps.get_models(include_auto_created=True) if m._meta.managed]
    return [*every, MigrationRecorder.Migration]


@contextmanager
def file_of(place: Path) -> Iterator[str]:
    """Open a file of SQLite beside the database of the product; yield its alias."""
    plain = {**connections["default"].settings_dict, "ENGINE": "django.db.backends.sqlite3"}
    plain |= {
        "NAME": str(place),
        "OPTIONS": {},
        "CONN_HEALTH_CHECKS": False,
        "ATOMIC_REQUESTS": False,
    }
    connections.databases[OTHER] = plain
    try:
        yield OTHER
    finally:
        connections[OTHER].close()
        del connections[OTHER]
        del connections.databases[OTHER]


def write_file(place: Path) -> None:
    """Write all rows, of one moment, into a new file of SQLite."""
    with file_of(place) as other:
        with connections[other].schema_editor() as editor:
            for table in tables():
                # A table between two others comes with them.
                if not table._meta.auto_created:
                    editor.create_model(table)
        with transaction.atomic():
            with connections["default"].cursor() as cursor:
                cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY")
            _carry("default", other)


def read_file(place: Path) -> None:
    """Put all rows of a file of SQLite into the database of the product, which is empty.

    Raises
    ------
    CarryError
        when the file is of another version, or somebody is in the database already.
    """
    with file_of(place) as other:
        theirs, ours = (_migrations(alias) for alias in (other, "default"))
        if theirs != ours:
            raise CarryError(
                "The backup is of another version. Restore it with that version, or restore it "
                "into SQLite, which brings it up to date, and carry on from a backup of that."
            )
        if models.QuerySet(apps.get_model(settings.AUTH_USER_MODEL)).exists():
            raise CarryError("Somebody is in the database. Restore into an empty one.")
        with transaction.atomic():
            for table in reversed(tables()):
                models.QuerySet(table)._raw_delete("default")
            _carry(other, "default")
            _number_on()


def _migrations(alias: str) -> set[tuple[str, str]]:
    return set(MigrationRecorder(connections[alias]).applied_migrations())


def _carry(source: str, target: str) -> None:
    with transaction.atomic(using=target), connections[target].constraint_checks_disabled():
        for table in tables():
            fields = [f for f in table._meta.concrete_fields if not f.generated]
            names = [f.attname for f in fields]
            every: models.QuerySet[models.Model] = models.QuerySet(table, using=source)
            rows = every.order_by("pk").values_list(*names)
            found = rows.iterator(chunk_size=LOT)
            while lot := list(islice(found, LOT)):
                made = [_as_is(table, names, row) for row in lot]
                into: models.QuerySet[models.Model] = models.QuerySet(table, using=target)
                into.bulk_create(made, batch_size=LOT)


def _as_is(table: type[models.Model], names: list[str], row: tuple[Any, ...]) -> models.Model:
    return table(**dict(zip(names, row, strict=True)))


def _number_on() -> None:
    """Let new rows be numbered behind those that were carried."""
    connection = connections["default"]
    with connection.cursor() as cursor:
        for order in connection.ops.sequence_reset_sql(no_style(), tables()):
            cursor.execute(order)
