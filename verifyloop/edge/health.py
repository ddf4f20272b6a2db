"""Whether it lives, and whether it can do its work: for who watches over the server."""

from __future__ import annotations

import shutil
import time
from collections.abc import Callable
from pathlib import Path

from django.conf import settings
from django.core.exceptions import ImproperlyConfigured
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, JsonResponse

from verifyloop.edge.release import release
from verifyloop.register import book, keys

#: Less than this on the disk of the data, and work would soon be refused. [byte]
LEAST_FREE = 200_000_000
#: A worker that gave no sign for so long is dead. [s]
FORSAKEN = 60


def alive(request: HttpRequest) -> JsonResponse:
    """Say that this process answers."""
    return JsonResponse({"alive": True, "release": release()})


def ready(request: HttpRequest) -> JsonResponse:
    """Say of each thing that work needs whether it is there; 503 where one is not."""
    said = {name: check() for name, check in CHECKS.items()}
    good = not any(said.values())
    body = {"ready": good, "release": release(), "wrong": {k: v for k, v in said.items() if v}}
    # People work on without it: it is told, and does not take the server out of service.
    if silent := worker_silent():
        body["told"] = {"worker": silent}
    return JsonResponse(body, status=200 if good else 503)


def _database() -> str:
    try:
        # Looked for in the store itself: a connection that is kept may have died.
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
        waiting = MigrationExecutor(connection)
        plan = waiting.migration_plan(waiting.loader.graph.leaf_nodes())
    except DatabaseError:
        return "The database does not answer."
    return f"{len(plan)} migrations wait: run manage.py migrate." if plan else ""


def _seals() -> str:
    try:
        last = book.last_seal()
        known = keys.keys()
    except DatabaseError:
        return "The register cannot be read."
    except ImproperlyConfigured:
        return "The keys of the seals are missing or cannot be read."
    number = last.split(".")[0]
    fits = not last or (number.isdigit() and int(number) in known)
    return "" if fits else f"Key {number}, by which the last line is sealed, is not in the file."


def worker_silent() -> str:
    """Return that the worker of background tasks does not answer; empty where it does."""
    if settings.BACKGROUND != "worker":
        return ""
    try:
        age = time.time() - beat().stat().st_mtime
    except OSError:
        age = FORSAKEN + 1
    return "" if age <= FORSAKEN else "The worker of background tasks does not run."


def beat() -> Path:
    """Return the file that the worker touches while it runs."""
    return Path(settings.DATA_DIR) / "worker.alive"


def _disk() -> str:
    free = shutil.disk_usage(settings.DATA_DIR).free
    return "" if free >= LEAST_FREE else f"{free // 10**6} MB are free on the disk of the data."


def _page() -> str:
    there = (settings.WEB_DIST / "index.html").exists()
    return "" if there else "The interface is not built: run make .build/web."


CHECKS: dict[str, Callable[[], str]] = {
    "database": _database,
    "seals": _seals,
    "disk": _disk,
    "page": _page,
}
