"""What the plant keeps of a detector's job: gas drawn and set aside, how each sensor answers."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from typing import Any

from calibration.detector.life import Past, expected_on
from calibration.engine.job.reads import Reads
from calibration.engine.judging.outcome import outcome
from calibration.engine.judging.validity import Course, History
from calibration.engine.method.conditions import renewed
from calibration.engine.method.family import Drawn
from calibration.families.gas.exposure import by_gas
from calibration.families.gas.facts import channels, contents
from calibration.families.gas.gases import answer, drawn_l, found_of, needs_l, used_l
from calibration.families.gas.ledger import gas_of
from calibration.families.gas.sensor import of_new, response_of, span_set
from calibration.families.gas.words import GasRun
from calibration.families.shared.wearing import worn
from calibration.gas.cylinder import Channel
from calibration.kernel.codec import decode
from calibration.kernel.numbers import exact

#: Repairs that give back what the sensor itself answers.
FREED = ("cleaned", "filter")
#: Causes that lie in the sensor itself.
OWN = ("aged", "spent", "poisoned", "span_error", "zero_shift", "window", "background_gas")


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
    """Return what each sensor answered at a signed job: raw, in % of a new one.

    Its usual time and its course of life are learnt from accepted results alone. Of a job that
    was not accepted only a span that was set is kept, for later responses count from it.
    """
    found: list[dict[str, Any]] = []
    with exact():
        accepted = outcome(job).good
        for n, c in enumerate(channels(job.ledger.facts)):
            run = _tells(job, n)
            raw, percent = of_new(job, run), response_of(job, run)
            was_set = span_set(job, n)
            if c.principle == "infrared" and by_gas(job.ledger):
                # A window that was cleaned is no ageing of a sensor.
                continue
            if raw is None or percent is None or not (accepted or was_set):
                continue
            took = _t90(job, run)
            found.append(
                {
                    "channel": c.id,
                    "gas": c.gas,
                    "raw": round(float(raw), 1),
                    "found": round(float(percent), 1),
                    "set": was_set,
                    "replaced": renewed(job.ledger),
                    "accepted": accepted,
                    "t90": str(took) if took is not None and accepted else "",
                }
            )
    return found


def _tells(job: Reads, channel: int) -> str:
    """Return the run that tells what the sensor itself answers: as found, unless that was hidden.

    A filter, a cap or a cylinder that was put right says nothing about the sensor.
    """
    spec = found_of(job, channel)
    figures = job.figures(spec.id)
    hidden = figures.mark == "outside" and figures.causes and figures.causes[0].cause not in OWN
    # A window that was cleaned, or a filter that was changed, is not what the sensor answers.
    hidden = hidden or any(c.what in FREED for c, _ in job.ledger.repaired)
    if channels(job.ledger.facts)[channel].gas == "oxygen" and not renewed(job.ledger):
        return _in_air(job, channel) or spec.id
    left = next((r for r in job.ledger.method.runs_of("left") if r.channel == channel), None)
    if left is not None and (hidden or renewed(job.ledger)) and job.figures(left.id).order:
        return left.id
    return spec.id


def _in_air(job: Reads, channel: int) -> str:
    """Return the run in which oxygen was read in air before it was set: bottled first."""
    for gas in ("proof", "air"):
        for spec in job.ledger.method.runs:
            if not isinstance(spec, GasRun) or spec.channel != channel or not spec.before:
                continue
            if gas in spec.gases and job.ledger.readings[spec.id]:
                return spec.id
    return ""


def _t90(job: Reads, run: str) -> Decimal | None:
    figures = job.figures(run)
    times = (answer(figures.taken[i].content).t90_s for i in figures.order)
    return next((t for t in times if t is not None), None)


def past_of(history: History, channel: str) -> list[Past]:
    """Return the responses of one sensor position, oldest first; replacements begin anew."""
    return [
        Past(date=str(day), response=r["raw"], replaced=r["replaced"])
        for day, answers in history
        for r in answers
        if r["channel"] == channel and r.get("accepted", True)
    ]


def courses(
    own: Mapping[str, Any], history: History, parameters: Mapping[str, str]
) -> tuple[Course, ...]:
    """Return the life of every sensor of a detector, by the limits of its manual."""
    weak = float(parameters.get("weak_percent", "60"))
    spent = float(parameters.get("replace_percent", "40"))
    return tuple(
        worn(c["id"], decode(Channel, c).label, past_of(history, c["id"]), weak, spent)
        for c in own.get("channels", ())
    )


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
        # What stands on the record counts until a signed job says otherwise.
        base, t90 = float(c.get("base_percent") or 100), ""
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
