"""Running the core's operations with what the site knows besides."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from calibration.analyzers.ph.buffers import BufferTable, check_table
from calibration.kernel.checks import some
from calibration.kernel.codec import decode, encode
from calibration.kernel.errors import InputError
from calibration.kernel.registry import find
from calibration.operations import run, with_text
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.bench.models import SiteBuffer
from verifyloop.bench.selectors import site_buffers
from verifyloop.register.write_lock import writing

#: Operations that look buffers up, and so get the site's own besides.
WITH_BUFFERS = frozenset({"ph.buffer", "ph.evaluate"})


def _given(name: str, payload: Mapping[str, Any]) -> dict[str, Any]:
    given = dict(payload)
    if name in WITH_BUFFERS and not given.get("own_tables"):
        given["own_tables"] = encode(site_buffers())
    return given


def compute(name: str, payload: Mapping[str, Any]) -> dict[str, Any]:
    """Return the result of one operation and how it was computed."""
    return run(find(name).name, _given(name, payload))


def on_the_bench(name: str, payload: Mapping[str, Any]) -> dict[str, Any]:
    """Return a result with figures as text, its picture, and all of it as plain text."""
    return with_text(find(name).name, _given(name, payload))


def table(asked: Mapping[str, Any]) -> dict[str, Any]:
    """Return a table as text."""
    given = {**asked, "fixed": _given(str(asked["operation"]), asked["fixed"])}
    return run("table.make", given)


@writing()
def save_buffer(*, actor: User, sent: Mapping[str, Any], now: datetime) -> SiteBuffer:
    """Add a buffer of the site, or a newer table of one."""
    require(actor, "bench.tables")
    made = decode(BufferTable, sent)
    if made.set in ("primary", "technical") or not made.set.strip():
        raise InputError(
            "buffer.set",
            "set",
            "The shipped sets cannot be changed.",
            "Give the set of the site a name of its own.",
        )
    for name, longest in (("set", 40), ("nominal", 10), ("source", 200)):
        if not str(getattr(made, name)).strip() or len(getattr(made, name)) > longest:
            raise InputError(
                f"buffer.{name}",
                name,
                f"This takes 1 to {longest} characters.",
                "For example the maker's data sheet and its date." if name == "source" else "",
            )
    some(made.temperatures_c, "temperatures_c", "temperatures", 2)
    check_table(made, "values")
    return SiteBuffer.objects.create(
        set=made.set.strip(),
        nominal=made.nominal.strip(),
        temperatures_c=list(made.temperatures_c),
        values=list(made.values),
        source=made.source.strip(),
        at=now,
        by=actor.display_name,
    )
