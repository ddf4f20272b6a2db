"""The gas of a job as a screen shows it, and the sentences about what a detector answered."""

from __future__ import annotations

from datetime import timedelta
from decimal import Decimal

from calibration.detector.naming import MEASURES_FROM_MA
from calibration.detector.visit import NONE_BELOW
from calibration.engine.evaluation import RunFigures
from calibration.engine.job import Job
from calibration.engine.method import Step
from calibration.families.gas.admit import refused, target_of
from calibration.families.gas.gases import (
    SUFFIX,
    drawn_l,
    gases_of,
    lel_set_of,
    minutes_for,
    needs_l,
    present,
    role_for,
    shows,
    used_l,
    value_of,
)
from calibration.families.gas.state import ForceState, GasLine, GasState, Todo
from calibration.gas.cylinder import Channel, Purpose, in_words
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.kernel.rounding import show, trimmed

GASES = {
    "air": "Air around",
    "zero": "Zero gas",
    "span": "Span gas",
    "nitrogen": "Nitrogen",
}
#: Our words for what a detector answered.
OUTCOMES = {
    "accepted": "Answers as it should",
    "zero_gas_suspect": "Zero gas or air is suspect",
    "zero_moved": "Zero has moved",
    "no_response": "No answer",
    "low_response": "Answers too little",
    "high_response": "Answers too much",
    "out_of_range": "Past what may be set",
    "unstable": "Does not settle",
    "inhibited": "Output held",
    "fault_current": "Reports a fault",
}


def gas_state(job: Job) -> GasState | None:
    """Return the gas that is wanted now; none where the present step wants none."""
    wanted = present(job)
    if wanted is None:
        return None
    step, purpose, channel = wanted
    c = job.ledger.facts.channels[channel]
    role = role_for(purpose, channel)
    chosen = job.ledger.kit.get(role)
    flow = job.ledger.flowing
    on = flow is not None and flow.content.role == role
    minutes = minutes_for(job.settings, purpose)
    ready = flow.on.when + timedelta(minutes=float(minutes)) if flow is not None and on else None
    value = value_of(job.ledger, job.settings, purpose, channel)
    cylinder = chosen.asset.gas if chosen is not None else None
    return GasState(
        step=step.id,
        todo=_todo(job, step, purpose, on),
        channel=c.id,
        channel_label=c.label,
        purpose=purpose,
        role=role,
        cylinder=chosen.asset.asset if chosen is not None else "",
        contents=in_words(cylinder, lel_set_of(job.settings)) if cylinder else "",
        value="" if value is None else trimmed(value),
        unit=c.unit,
        flow=f"{trimmed(c.flow_l_per_min)} L/min" if role else "",
        flow_value=format(c.flow_l_per_min, "f"),
        advice=_advice(job, c, purpose),
        minutes=trimmed(minutes),
        since=flow.on.at if flow is not None and on else "",
        ready_at=ready.isoformat() if ready is not None else "",
        drawn=f"{show(drawn_l(flow, job.now), 2)} L" if flow is not None and on else "",
        needed=f"{show(max(Decimal(0), needs_l(job, role) - used_l(job, role)), 1)} L"
        if role
        else "",
        left=f"{show(max(Decimal(0), cylinder.left_l - used_l(job, role)), 1)} L"
        if cylinder
        else "",
        usual_t90_s=to_float(c.usual_t90_s or c.t90_s),
        shut_after=bool(role),
        target=trimmed(target_of(job, step)) if step.kind == "gas_set" else "",
        end=step.end if step.kind == "gas_set" else "",
        force=_force(job, step),
    )


def _todo(job: Job, step: Step, purpose: Purpose, on: bool) -> Todo:
    if step.kind == "gas_set":
        if step.id in job.ledger.gas_set:
            return "shut"
        return "set" if on or purpose == "air" else "open"
    if job.ledger.flowing is not None and not on:
        return "shut"
    complete = len(job.ledger.readings[step.run]) >= len(job.plan_of(step.run))
    if complete:
        return "shut"
    return "read" if on or purpose == "air" else "open"


def _advice(job: Job, c: Channel, purpose: Purpose) -> str:
    said = []
    if purpose != "air" and c.humid:
        said.append("Through the humidifier.")
    if purpose != "air" and c.demand:
        said.append("Through a demand-flow regulator: it draws what it needs.")
    if c.principle == "infrared" and purpose == "span":
        said.append("A fast rise can pass its end before it settles: wait for it.")
    if c.principle == "infrared" and purpose == "zero":
        said.append("Dry and free of hydrocarbons; flush the optical path first.")
    return " ".join(said)


def _force(job: Job, step: Step) -> ForceState | None:
    if step.kind != "gas_set" or step.id in job.ledger.gas_set:
        return None
    seen = _last_seen(job, step)
    if seen is None:
        return None
    why, may = refused(job, step, seen)
    entry = job.ledger.agreed.get(step.id)
    if not why:
        return None
    by = ""
    if entry is not None:
        content = entry[0]
        by = content.name if content.way == "second_person" else ""
        by = by or (f"{content.asset.asset} agrees" if content.asset else "")
    return ForceState(refused=why, may_force=may, agreed=by)


def _last_seen(job: Job, step: Step) -> Decimal | None:
    """Return what the channel showed last in the gas that a step sets with. [gas unit]"""
    suffix = SUFFIX[step.channel]
    for name in (f"base{suffix}", f"as_found{suffix}"):
        figures = job.figures(name)
        gases = gases_of(job.settings, job.ledger.method.run(name))
        for i in figures.order:
            if gases[i] == step.gas:
                return shows(figures.facts, figures.taken[i].content)
    return None


def gas_lines(job: Job) -> tuple[GasLine, ...]:
    """Return what was read with each gas so far, in words."""
    found: list[GasLine] = []
    for run in job.ledger.method.runs:
        if run.input == "gas" and run.channel < len(job.ledger.facts.channels):
            figures = job.figures(run.id)
            gases = gases_of(job.settings, run)
            found += [_line(job, run.id, figures, i, gases[i]) for i in figures.order]
    return tuple(found)


def _line(job: Job, run: str, figures: RunFigures, index: int, purpose: Purpose) -> GasLine:
    spec = job.ledger.method.run(run)
    c = job.ledger.facts.channels[spec.channel]
    content = figures.taken[index].content
    seen = shows(figures.facts, content)
    gas = content.applied
    outcome = outcome_at(job, figures, index, purpose)
    percent = HUNDRED * seen / gas if gas else None
    known = percent is not None and c.expected_percent is not None
    return GasLine(
        run=spec.title,
        channel=c.label,
        gas=f"{GASES[purpose]}{f' {trimmed(gas)} {c.unit}' if gas else ''}",
        reading=f"{trimmed(seen)} {c.unit}",
        outcome=outcome,
        label=OUTCOMES[outcome],
        text=figures.causes[0].evidence if figures.causes and outcome != "accepted" else "",
        response=f"{show(percent, 1)} %" if percent is not None else "",
        last=f"trend expects {trimmed(c.expected_percent)} %"
        if known and c.expected_percent is not None and purpose != "air"
        else "",
        of_new=f"{show(percent * c.base_percent / HUNDRED, 0)} % of new"
        if percent is not None and purpose != "air"
        else "",
        t90=f"{show(content.t90_s, 0)} s" if content.t90_s is not None else "",
    )


def outcome_at(job: Job, figures: RunFigures, index: int, purpose: Purpose) -> str:
    """Return our word for what a detector answered to one gas."""
    content, place = figures.taken[index].content, figures.order.index(index)
    facts = figures.facts
    if facts.output_unit == "mA" and content.reading < Decimal(str(MEASURES_FROM_MA)):
        held = abs(content.reading - facts.inhibit_ma) <= Decimal("0.3")
        return "inhibited" if held else "fault_current"
    if figures.marks[place] != "outside":
        return "accepted"
    seen, gas = shows(facts, content), content.applied
    if not gas:
        doubted = any(c.cause in ("background_gas", "zero_gas_suspect") for c in figures.causes)
        return "zero_gas_suspect" if doubted else "zero_moved"
    percent = HUNDRED * seen / gas
    if seen >= facts.input_upper * Decimal("1.03"):
        return "out_of_range"
    if percent < Decimal(str(NONE_BELOW)):
        return "no_response"
    return "low_response" if percent < HUNDRED else "high_response"
