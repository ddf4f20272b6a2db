"""Gas of a job beside its events: the rig that follows, the cylinders that empty, sensor life."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Any

from calibration.detector.life import Past, expected_on
from calibration.engine import events as core
from calibration.engine.job import Job as CoreJob
from calibration.engine.method import Step
from calibration.families.gas.gases import (
    SUFFIX,
    drawn_l,
    gases_of,
    needs_l,
    shows,
    used_l,
)
from calibration.kernel.codec import decode, encode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, exact
from calibration.simulate.commands import Command
from calibration.simulate.rigs import model_of, settings_at
from verifyloop.kit.gas import Drawn, book, cylinder_by_asset, holds, truth_of
from verifyloop.plant.models import Instrument
from verifyloop.rigs.models import Rig
from verifyloop.rigs.services import rig_of
from verifyloop.work.enrich import trim_order
from verifyloop.work.models import Job

#: What a step tells its rig: kind of command and value.
ORDERS = {
    "adapter_on": ("adapter", 1.0),
    "adapter_off": ("adapter", 0.0),
    "inhibit_on": ("inhibit", 1.0),
    "inhibit_off": ("inhibit", 0.0),
    "reset": ("reset", 0.0),
}


def follow(job: Job, before: CoreJob, event: core.Event) -> None:
    """Let the rig of a detector do what an event says, where the event comes from it."""
    if event.source != "simulated" or not before.ledger.facts.channels:
        return
    if not Rig.objects.filter(instrument_id=job.instrument_id).exists():
        return
    rig = rig_of(job.instrument.tag)
    step = before.ledger.method.step(getattr(event.content, "step", ""))
    if event.kind == "confirmed" and step is not None and step.order == "reset":
        _refuse_live(rig, event)
    t = max(0.0, (event.when - rig.started_at).total_seconds() * rig.pace)
    order = _order(job, before, event, t, rig.pace)
    if order is not None:
        rig.commands = [*rig.commands, encode(order)]
        rig.save(update_fields=["commands"])


def _refuse_live(rig: Rig, event: core.Event) -> None:
    """Refuse to call an alarm reset while the detector still sees gas."""
    t = max(0.0, (event.when - rig.started_at).total_seconds() * rig.pace)
    commands = [decode(Command, c, "command") for c in rig.commands]
    if settings_at(model_of(rig.model), commands, t).get("alarm") == "live":
        raise InputError(
            "alarm.live",
            "data.item",
            "The alarm is live: the detector sees gas now.",
            "Leave the bypass on, leave the place, and follow the site's alarm procedure.",
        )


def _order(job: Job, before: CoreJob, event: core.Event, t: float, pace: float) -> Command | None:
    content = event.content
    if event.kind == "gas_on":
        chosen = before.ledger.kit[content.role].asset.asset
        cylinder = cylinder_by_asset(chosen)
        if cylinder is None:
            return None
        mix, balance = truth_of(cylinder)
        # The rig's clock may run faster than the one by which gas is booked.
        water = Decimal(cylinder.water_l)
        litres = float(holds(cylinder, job.number).pressure_bar * water / Decimal("1.01325"))
        return decode(
            Command,
            {
                "t": t,
                "kind": "gas",
                "value": float(content.flow),
                "mix": mix,
                "text": balance,
                "litres": litres * pace,
            },
            "command",
        )
    if event.kind == "gas_off":
        return Command(t=t, kind="shut")
    if event.kind == "gas_set":
        return trim_order(before, before.step(content.step), t)
    if event.kind in ("put_on", "taken_off", "confirmed"):
        step = before.ledger.method.step(content.step)
        if step is not None and step.order in ORDERS and _last_line(before, step, event):
            kind, value = ORDERS[step.order]
            return Command(t=t, kind=kind, value=value)  # type: ignore[arg-type]
    return None


def _last_line(before: CoreJob, step: Step, event: core.Event) -> bool:
    """Tell whether an event finishes its step; a checklist tells the rig once."""
    if event.kind != "confirmed":
        return True
    left = [i.id for i in step.items if (step.id, i.id) not in before.ledger.confirmed]
    return left == [event.content.item]


def book_gas(job: Job, after: CoreJob) -> None:
    """Write down what the job has drawn, and set aside what it may still take."""
    ledger = after.ledger
    if not ledger.facts.channels or not any(k.asset.gas for k in ledger.kit.values()):
        return
    drawn = []
    with exact():
        for flow in ledger.flows:
            chosen = ledger.kit.get(flow.content.role)
            if flow.off is not None and chosen is not None:
                litres = float(drawn_l(flow, flow.off.when))
                drawn.append(Drawn(chosen.asset.asset, flow.on.when, litres))
        aside: dict[str, float] = {}
        if ledger.signed is None:
            for role, chosen in ledger.kit.items():
                if chosen.asset.gas is not None:
                    left = float(max(Decimal(0), needs_l(after, role) - used_l(after, role)))
                    name = chosen.asset.asset
                    aside[name] = aside.get(name, 0.0) + left
    book(job.number, job.instrument.tag, drawn, aside)


def responses_of(after: CoreJob) -> list[dict[str, Any]]:
    """Return what each sensor answered at a signed job: raw, in % of a new one."""
    ledger = after.ledger
    found: list[dict[str, Any]] = []
    replaced = after.choice("judge") == "replace"
    with exact():
        for n, c in enumerate(ledger.facts.channels):
            stage = "as_left" if replaced else "as_found"
            name = f"{stage}{SUFFIX[n]}"
            figures = after.figures(name)
            gases = gases_of(after.settings, ledger.method.run(name))
            at = next((i for i in figures.order if figures.taken[i].content.applied > 0), None)
            if at is None or gases[at] == "nitrogen":
                continue
            content = figures.taken[at].content
            percent = HUNDRED * shows(figures.facts, content) / content.applied
            base = HUNDRED if replaced else c.base_percent
            set_now = any(
                (s := ledger.method.step(k)) is not None and s.end == "span" and s.channel == n
                for k in ledger.gas_set
            )
            raw = HUNDRED if replaced else percent * base / HUNDRED
            found.append(
                {
                    "channel": c.id,
                    "gas": c.gas,
                    "raw": round(float(raw), 1),
                    "found": round(float(percent), 1),
                    "set": set_now,
                    "replaced": replaced,
                    "t90": str(content.t90_s) if content.t90_s is not None else "",
                }
            )
    return found


def past_of(instrument: Instrument, channel: str) -> list[Past]:
    """Return the responses of one sensor position, oldest first; replacements begin anew."""
    jobs = Job.objects.filter(instrument=instrument, signed_at__isnull=False)
    found = []
    for job in jobs.order_by("signed_at"):
        for r in job.responses:
            if r["channel"] == channel and job.signed_at is not None:
                found.append(
                    Past(date=str(job.signed_at.date()), response=r["raw"], replaced=r["replaced"])
                )
    return found


def sensors_now(instrument: Instrument, today: date) -> dict[str, dict[str, str]]:
    """Return by channel what its history says: response when last set, and what is expected."""
    known: dict[str, dict[str, str]] = {}
    jobs = list(
        Job.objects.filter(instrument=instrument, signed_at__isnull=False).order_by("signed_at")
    )
    for c in instrument.channels:
        base, t90 = 100.0, ""
        for job in jobs:
            for r in job.responses:
                if r["channel"] == c["id"]:
                    base = r["raw"] if r["set"] or r["replaced"] else base
                    t90 = r["t90"] or t90
        found = {"base_percent": str(base)}
        expected = expected_on(past_of(instrument, c["id"]), today)
        if expected is not None and base:
            found["expected_percent"] = str(round(100 * expected / base, 1))
        if t90:
            found["usual_t90_s"] = t90
        known[c["id"]] = found
    return known
