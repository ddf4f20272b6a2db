"""Calculators of the Bench that a step leads to, with what the job knows filled in."""

from __future__ import annotations

import json
from typing import Any

from calibration.engine.job.job import Job
from calibration.engine.view.asks import Task
from calibration.engine.view.blocks import BenchLink
from calibration.kernel.codec import encode
from calibration.kernel.units import alternatives


def link(operation: str, label: str, given: Any) -> BenchLink:
    """Return the way to a calculator with its inputs; what is none is left out."""
    known = encode(given)
    filled = {
        name: value if isinstance(value, str) else json.dumps(value, separators=(",", ":"))
        for name, value in known.items()
        if value is not None
    }
    return BenchLink(operation=operation, label=label, given=filled)


def links(job: Job, todo: Task) -> tuple[BenchLink, ...]:
    """Return those of the family, and the way from another unit into that of a typed value."""
    into = dict.fromkeys(unit for unit in _units(job, todo) if alternatives(unit))
    turned = (link("unit.convert", f"Another unit into {u}", {"to_unit": u}) for u in into)
    return (*job.family.bench(job), *turned)


def _units(job: Job, todo: Task) -> list[str]:
    """Return the units of what is typed; a rig gives them by itself."""
    if job.ledger.facts.rig:
        return []
    return [value.unit for ask in todo.asks if not ask.said for value in ask.values]
