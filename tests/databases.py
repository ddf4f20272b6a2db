"""Databases of the real servers of tests, where the tests run on PostgreSQL: one for each."""

from __future__ import annotations

import fcntl
import os
import shutil
import unittest
import uuid
from pathlib import Path
from typing import TYPE_CHECKING, Any
from urllib.parse import urlsplit

import psycopg

if TYPE_CHECKING:
    from tests.process import RealServer

DATABASE = "VERIFYLOOP_DATABASE"
SERVER = os.environ.get(DATABASE, "")
#: What looks into the file of SQLite itself.
on_sqlite = unittest.skipIf(SERVER, "it looks into SQLite's own file")
#: Names a folder with databases that were filled before, one a module that fills them.
SEEDED = "VERIFYLOOP_SEEDED"


def _call(order: str) -> None:
    with psycopg.connect(SERVER, autocommit=True) as connection:
        connection.execute(order)  # type: ignore[arg-type]


def rows(address: str, question: str) -> list[tuple[Any, ...]]:
    """Ask a database."""
    with psycopg.connect(address) as connection:
        return connection.execute(question).fetchall()  # type: ignore[arg-type]


def fresh(template: str = "template1") -> str:
    """Make a database and return its address."""
    name = f"loop_{uuid.uuid4().hex[:12]}"
    _call(f"CREATE DATABASE {name} TEMPLATE {template}")
    return urlsplit(SERVER)._replace(path=f"/{name}").geturl()


def filled(server: RealServer, module: str) -> str:
    """Return the address of a database as a module fills it; it is filled once for all."""
    name = f"filled_{module.replace('.', '_')}"
    keys = Path(os.environ[SEEDED]) / f"{name}.keys"
    with (keys.with_suffix(".lock")).open("w") as turn:
        fcntl.flock(turn, fcntl.LOCK_EX)
        if not keys.exists():
            server.fill(module)
            _call(f"CREATE DATABASE {name} TEMPLATE {_name(server.environment[DATABASE])}")
            shutil.copy(server.keys, keys)
        shutil.copy(keys, server.keys)
        return fresh(name)


def _name(address: str) -> str:
    return urlsplit(address).path[1:]
