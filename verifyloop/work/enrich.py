"""What a client may not say by itself: reference data, live values, names under signatures."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any

from calibration.codec import encode
from calibration.errors import InputError
from calibration.numbers import parse_decimal
from calibration.procedure.job import Job as CoreJob
from verifyloop.accounts.models import User
from verifyloop.kit.selectors import asset_facts, reference_by_asset
from verifyloop.rigs.services import rig_of
from verifyloop.rigs.sources import Captured, SimulatedLoop, Wanted, refuse_unsteady
from verifyloop.work.groups import programme_of
from verifyloop.work.models import Job
from verifyloop.work.sent import STATEMENT, NewEvent


def enrich(sent: NewEvent, job: Job, actor: User, before: CoreJob, at: datetime) -> NewEvent:
    """Return the event with what the server knows better filled in."""
    data = dict(sent.data)
    if sent.kind == "kit_chosen":
        if not isinstance(data.get("asset"), str):
            raise InputError(
                "field.wrong_type", "data.asset", "This must be an asset number.", "Choose one."
            )
        data["asset"] = encode(asset_facts(reference_by_asset(data["asset"])))
    elif sent.kind == "signed":
        data = {"name": actor.display_name, "statement": STATEMENT}
    elif sent.kind == "reviewed":
        data["name"] = actor.display_name
    elif sent.kind in ("reading_taken", "adjusted") and sent.source == "simulated":
        data = _from_rig(sent.kind, data, job, before, at)
    elif sent.kind == "written" and sent.source == "simulated":
        data["read_back"] = source_for(job, before, at).read_setting(
            str(data.get("setting", "")), at
        )
    elif sent.kind == "opened":
        raise InputError("job.opened_twice", "kind", "The job is open.", "Go on with it.")
    else:
        return sent
    return replace(sent, data=data)


def source_for(job: Job, before: CoreJob, now: datetime) -> SimulatedLoop:
    """Return the live source of a job's instrument, with the job's idea of steady."""
    step = before.current
    capturing = step is not None and step.kind == "capture"
    run = step.run if step is not None and capturing else "as_found"
    facts = before.facts_of(run)
    band = before.settings.share("stable_band_percent") * abs(facts.transfer.output_span)
    placed = capturing and run in before.ledger.placed
    return SimulatedLoop(
        rig_of(job.instrument.tag),
        facts,
        Wanted(float(band), float(before.settings.number("stable_dwell_s"))),
        programme_of(job.number, now) if placed else None,
    )


def _from_rig(
    kind: str, data: dict[str, Any], job: Job, before: CoreJob, at: datetime
) -> dict[str, Any]:
    """Replace a moment of the rig by the values that the rig shows at it."""
    source = source_for(job, before, at)
    moment = float(parse_decimal(data.pop("sample_at", None), "data.sample_at"))
    newest = source.time_at(at) + 5 * source.rig.pace
    if not 0 <= moment <= newest:
        raise InputError(
            "reading.no_such_moment",
            "data.sample_at",
            "The rig has no value for that moment.",
            "Take the reading again.",
        )
    captured = source.capture(moment)
    facts = before.ledger.facts
    spec = before.ledger.method.run(str(data.get("run", "as_found")))
    smart = facts.smart and spec.input == "instrument"
    values = _values(captured, smart, facts.indicated)
    if spec.input == "fixed_current" and kind == "reading_taken":
        point = before.plan_of(spec.id)[_index(data.get("point"), before.plan_of(spec.id))]
        values["applied"] = str(point.nominal)
    if kind == "adjusted":
        refuse_unsteady(captured, str(data.pop("early_reason", "")))
        hop = data.get("hop")
        screws = before.ledger.method.adjusting == "screws"
        rig_hop = "sensor" if hop == "transmitter" and not screws else str(hop)
        shown = source.before_last_trim(rig_hop)
        if data.get("action") == "trim" and shown is None:
            raise InputError(
                "adjust.not_trimmed", "data.hop", "The rig was not trimmed yet.", "Trim it first."
            )
        if data.get("action") == "trim" and (hop != "transmitter" or screws):
            data["before"] = str(shown)
        return {**data, **values}
    refuse_unsteady(captured, str(data.get("early_reason", "")))
    if captured.steady:
        data.pop("early_reason", None)
    return {**data, **values, "steadiness": encode(captured.steadiness)}


def _values(captured: Captured, smart: bool, indicated: bool) -> dict[str, str]:
    values = {"applied": str(captured.applied), "reading": str(captured.reading)}
    if smart:
        values["digital"] = str(captured.digital)
    if indicated:
        values["indicated"] = str(captured.indicated)
    return values


def _index(point: object, plan: Sequence[object]) -> int:
    """Return the index of a point; the core refuses one that is not there."""
    return point if isinstance(point, int) and 0 <= point < len(plan) else 0
