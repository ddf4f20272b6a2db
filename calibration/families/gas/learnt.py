"""What the plant keeps of a detector's job: gas drawn and set aside, how each sensor answers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from decimal import Decimal
from typing import Any

from calibration.detector.life import Past, expected_on
from calibration.engine.family import Drawn
from calibration.engine.reads import Reads
from calibration.families.gas.facts import channels, contents
from calibration.families.gas.gases import (
    drawn_l,
    found_of,
    gases_of,
    needs_l,
    shows,
    used_l,
)
from calibration.families.gas.ledger import gas_of
from calibration.families.gas.words import GasSet
from calibration.kernel.numbers import HUNDRED, exact


def drawn(job: Reads) -> tuple[Drawn, ...]:
    """Return what the job has drawn, one an opening. [L]"""
    found = []
    with exact():
        for flow in gas_of(job.ledger).flows:
            if flow.off is not None and flow.asset is not None:
                litres = float(drawn_l(flow, flow.off.when))
                found.append(Drawn(flow.asset.asset, flow.on.when, litres))
    return tuple(found)


def aside(job: Reads) -> dict[str, float]:
    """Return what the job may still take from each cylinder; nothing once it is signed. [L]"""
    found: dict[str, float] = {}
    if job.ledger.signed is not None:
        return found
    with exact():
        for role, chosen in job.ledger.kit.items():
            if contents(chosen.asset) is not None:
                used = used_l(job, role, chosen.asset.asset)
                left = float(max(Decimal(0), needs_l(job, role) - used))
                name = chosen.asset.asset
                found[name] = found.get(name, 0.0) + left
    return found


def responses(job: Reads) -> list[dict[str, Any]]:
    """Return what each sensor answered at a signed job: raw, in % of a new one."""
    ledger = job.ledger
    found: list[dict[str, Any]] = []
    replaced = job.chosen() == "replace"
    with exact():
        for n, c in enumerate(channels(ledger.facts)):
            spec = found_of(job, n)
            if replaced:
                spec = next(r for r in ledger.method.runs_of("left") if r.channel == n)
            figures = job.figures(spec.id)
            gases = gases_of(job.settings, spec)
            at = next((i for i in figures.order if figures.taken[i].content.applied > 0), None)
            if at is None or gases[at] == "nitrogen":
                continue
            content = figures.taken[at].content
            percent = HUNDRED * shows(figures.facts, content) / content.applied
            base = HUNDRED if replaced else c.base_percent
            raw = HUNDRED if replaced else percent * base / HUNDRED
            took = content.own.values.get("t90_s")
            found.append(
                {
                    "channel": c.id,
                    "gas": c.gas,
                    "raw": round(float(raw), 1),
                    "found": round(float(percent), 1),
                    "set": any(_span_of(job, step, n) for step in gas_of(ledger).set_now),
                    "replaced": replaced,
                    "t90": str(took) if took is not None else "",
                }
            )
    return found


def _span_of(job: Reads, step_id: str, channel: int) -> bool:
    step = job.ledger.method.step(step_id)
    return isinstance(step, GasSet) and step.end == "span" and step.channel == channel


History = Sequence[tuple[date, Sequence[Mapping[str, Any]]]]


def past_of(history: History, channel: str) -> list[Past]:
    """Return the responses of one sensor position, oldest first; replacements begin anew."""
    return [
        Past(date=str(day), response=r["raw"], replaced=r["replaced"])
        for day, answers in history
        for r in answers
        if r["channel"] == channel
    ]


def remembered(
    own: Mapping[str, Any],
    history: History,
    today: date,
) -> dict[str, Any]:
    """Return what is particular to a detector, with what its history says of each channel."""
    known = sensors_now(own, history, today)
    return {**own, "channels": [{**c, **known[c["id"]]} for c in own.get("channels", ())]}


def sensors_now(
    own: Mapping[str, Any],
    history: History,
    today: date,
) -> dict[str, dict[str, str]]:
    """Return by channel what its history says: response when last set, and what is expected."""
    known: dict[str, dict[str, str]] = {}
    for c in own.get("channels", ()):
        base, t90 = 100.0, ""
        for _, answers in history:
            for r in answers:
                if r["channel"] == c["id"]:
                    base = r["raw"] if r["set"] or r["replaced"] else base
                    t90 = r["t90"] or t90
        found = {"base_percent": str(base)}
        expected = expected_on(past_of(history, c["id"]), today)
        if expected is not None and base:
            found["expected_percent"] = str(round(100 * expected / base, 1))
        if t90:
            found["usual_t90_s"] = t90
        known[c["id"]] = found
    return known
