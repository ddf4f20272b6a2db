"""What a client may not say by itself: reference data, live values, names under signatures."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any

from calibration.engine.events import AssetFacts
from calibration.engine.job import Job as CoreJob
from calibration.engine.method import Step
from calibration.families.gas.admit import refused, target_of
from calibration.families.gas.gases import SUFFIX, minutes_for, present, role_for, value_of
from calibration.kernel.codec import encode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact, parse_decimal
from calibration.simulate.commands import Command
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.errors import NotAllowed
from verifyloop.kit.gas import cylinder_by_asset, cylinder_facts, needed_cylinder
from verifyloop.kit.selectors import asset_facts, reference_by_asset
from verifyloop.rigs.gas import GasWanted
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
        data["asset"] = encode(_asset(data["asset"], job.number))
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
    elif sent.kind == "gas_set" and sent.source == "simulated":
        data = _set_on_rig(data, job, before, at)
    elif sent.kind == "agreed":
        data = _agreed(data, job, actor)
    elif sent.kind == "opened":
        raise InputError("job.opened_twice", "kind", "The job is open.", "Go on with it.")
    else:
        return sent
    return replace(sent, data=data)


def _asset(asset: str, number: str) -> AssetFacts:
    cylinder = cylinder_by_asset(asset)
    if cylinder is not None:
        return cylinder_facts(cylinder, number)
    return asset_facts(reference_by_asset(asset))


def _agreed(data: dict[str, Any], job: Job, actor: User) -> dict[str, Any]:
    """Check who agrees to force: another person's own sign-in, or another cylinder."""
    password, username = data.pop("password", ""), data.pop("username", "")
    data.pop("name", None)
    if data.get("way") == "second_person":
        second = User.objects.filter(username=str(username)).first()
        if second is None or not second.is_active or not second.check_password(str(password)):
            raise NotAllowed(
                "password.wrong",
                "The second sign-in is not right. Nothing was agreed.",
                "Have the second person type their own name and password.",
                "data.password",
            )
        if second.pk == actor.pk:
            raise InputError(
                "force.second_person",
                "data.username",
                "A second person has to agree.",
                "Have a colleague sign in here.",
            )
        require(second, "job.force")
        data["name"] = second.display_name
    elif isinstance(data.get("asset"), str):
        data["asset"] = encode(cylinder_facts(needed_cylinder(data["asset"]), job.number, False))
    return data


def gas_wanted(before: CoreJob) -> GasWanted | None:
    """Return what the job expects of the gas that is on now; none for other instruments."""
    if not before.ledger.facts.channels:
        return None
    wanted = present(before)
    _, purpose, channel = wanted if wanted is not None else (None, "air", 0)
    c = before.ledger.facts.channels[channel]
    chosen = before.ledger.kit.get(role_for(purpose, channel))  # type: ignore[arg-type]
    with exact():
        value = value_of(before.ledger, before.settings, purpose, channel)  # type: ignore[arg-type]
        most = value_of(before.ledger, before.settings, "span", channel) or c.gas_value or c.range
    if purpose == "air":
        value = most
    return GasWanted(
        channel=channel,
        value=float(value if value is not None else 0),
        rest=float(c.rest),
        t90_s=float(c.usual_t90_s or c.t90_s),
        clear_percent=float(before.settings.number("clear_percent")),
        cylinder=chosen.asset.asset if chosen is not None and purpose != "air" else "",
        open=before.ledger.flowing is not None,
        hold_s=30 * float(minutes_for(before.settings, purpose)),  # type: ignore[arg-type]
        flow=float(c.flow_l_per_min),
    )


def _set_on_rig(data: dict[str, Any], job: Job, before: CoreJob, at: datetime) -> dict[str, Any]:
    """Let the rig set zero or span, and return what it showed before and after."""
    source = source_for(job, before, at)
    step = before.ledger.method.step(str(data.get("step", "")))
    if step is None or step.kind != "gas_set":
        return data
    moment = _moment(data, source, at)
    captured = source.capture(moment)
    refuse_unsteady(captured, str(data.pop("early_reason", "")))
    with exact():
        why, _ = refused(before, step, captured.digital)
    agreed = step.id in before.ledger.agreed
    if why and not agreed:
        return {**data, "before": str(captured.digital), "after": str(captured.digital)}
    order = trim_order(before, step, source.time_at(at))
    return {**data, "before": str(captured.digital), "after": str(source.after(order))}


def trim_order(before: CoreJob, step: Step, t: float) -> Command:
    """Return what a rig is told when zero or span is set in it."""
    with exact():
        target = target_of(before, step)
    return Command(
        t=t,
        kind="trim",
        end=step.end,
        setting=before.ledger.facts.channels[step.channel].id,
        to=float(target),
        forced=step.id in before.ledger.agreed,
    )


def source_for(job: Job, before: CoreJob, now: datetime) -> SimulatedLoop:
    """Return the live source of a job's instrument, with the job's idea of steady."""
    step = before.current
    capturing = step is not None and step.kind == "capture"
    run = step.run if step is not None and capturing else "as_found"
    if step is not None and step.kind == "gas_set":
        run = f"as_found{SUFFIX[step.channel]}"
    facts = before.facts_of(run)
    band = before.settings.share("stable_band_percent") * abs(facts.transfer.output_span)
    placed = capturing and run in before.ledger.placed
    return SimulatedLoop(
        rig_of(job.instrument.tag),
        facts,
        Wanted(float(band), float(before.settings.number("stable_dwell_s"))),
        programme_of(job.number, now) if placed else None,
        gas_wanted(before),
    )


def _from_rig(
    kind: str, data: dict[str, Any], job: Job, before: CoreJob, at: datetime
) -> dict[str, Any]:
    """Replace a moment of the rig by the values that the rig shows at it."""
    source = source_for(job, before, at)
    moment = _moment(data, source, at)
    captured = source.capture(moment)
    facts = before.ledger.facts
    spec = before.ledger.method.run(str(data.get("run", "as_found")))
    smart = facts.smart and spec.input == "instrument"
    values = _values(captured, smart, facts.indicated)
    if spec.input == "gas":
        smart = facts.smart and facts.output_unit == "mA"
        values = _values(captured, smart, facts.indicated)
        values = _with_gas(data, values, source, moment)
    if spec.input in ("fixed_current", "gas") and kind == "reading_taken":
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


def _moment(data: dict[str, Any], source: SimulatedLoop, at: datetime) -> float:
    """Return the moment of the rig that a value is taken from. [s]"""
    moment = float(parse_decimal(data.pop("sample_at", None), "data.sample_at"))
    newest = source.time_at(at) + 5 * source.rig.pace
    if not 0 <= moment <= newest:
        raise InputError(
            "reading.no_such_moment",
            "data.sample_at",
            "The rig has no value for that moment.",
            "Take the reading again.",
        )
    return moment


def _with_gas(
    data: dict[str, Any], values: dict[str, str], source: SimulatedLoop, moment: float
) -> dict[str, str]:
    """Add what a detector showed while the gas was on."""
    seen = source.exposed(moment)
    if seen is None:
        return values
    return {**values, **{k: v for k, v in encode(seen).items() if v is not None}}


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
