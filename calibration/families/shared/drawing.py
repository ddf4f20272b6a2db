"""Gas that is drawn at a known flow while a step keeps it on, and what a job may still take."""

from __future__ import annotations

from collections.abc import Mapping

from calibration.engine.job.reads import Reads
from calibration.engine.method.family import Drawn

#: By the step that puts it on: role of the kit, and flow. [L/min]
Flows = Mapping[str, tuple[str, float]]


def drawn_through(job: Reads, flows: Flows) -> tuple[Drawn, ...]:
    """Return what was drawn, one each time that it was on, from what was chosen then. [L]"""
    found = []
    for spell in job.ledger.spells:
        role, flow = flows.get(spell.step, ("", 0.0))
        chosen = spell.kit.get(role)
        if chosen is not None:
            minutes = max(0.0, (spell.off.when - spell.on.when).total_seconds() / 60)
            found.append(Drawn(chosen.asset.asset, spell.on.when, minutes * flow))
    return tuple(found)


def aside_for(job: Reads, flows: Flows, minutes: float) -> dict[str, float]:
    """Return what is set aside: each gas for its usual time, until it was on; signed: none. [L]"""
    found: dict[str, float] = {}
    if job.ledger.signed is not None or job.ledger.ended is not None:
        return found
    for step, (role, flow) in flows.items():
        chosen = job.ledger.kit.get(role)
        if chosen is None or any(spell.step == step for spell in job.ledger.spells):
            continue
        name = chosen.asset.asset
        found[name] = found.get(name, 0.0) + minutes * flow
    return found
