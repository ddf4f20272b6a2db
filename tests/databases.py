"""Databases of the real servers of tests, where the tests run on PostgreSQL: one for each."""

from __future__ import annotations

import os
import shutil
import tempfile
import unittest
import uuid
from pathlib import Path
from typing import TYPE_CHECKING, Any
from urllib.parse import urlsplit

import psycopg

if TYPE_CHECKING:
    from tests.process import RealServer

SERVER = os.environ.get("VERIFYLOOP_DATABASE", "")
#: What looks into the file of SQLite itself.
on_sqlite = unittest.skipIf(SERVER, "it looks into SQLite's own file")
#: By the module that filled it: a database to copy, and its keys.
_filled: dict[str, tuple[str, Path]] = {}
_kept = tempfile.TemporaryDirectory(prefix="verifyloop-keys-")


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
    """Return the address of a database as a module fills it; it is filled once."""
    if module in _filled:
        name, keys = _filled[module]
        shutil.copy(keys, server.keys)
        return fresh(name)
    server.fill(module)
    address = server.environment["VERIFYLOOP_DATABASE"]
    # Tests that run side by side each fill their own.
    keys = Path(_kept.name) / f"{os.getpid()}-{module}.keys"
    shutil.copy(server.keys, keys)
    _filled[module] = (_name(fresh(_name(address))), keys)
    return address


def _name(address: str) -> str:
    return urlsplit(address).path[1:]
