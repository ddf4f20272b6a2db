"""The gas of a job as a screen shows it, and the sentences about what a detector answered."""

from __future__ import annotations

from datetime import timedelta
from decimal import Decimal

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.conditions import renewed
from calibration.engine.method.method import Step
from calibration.engine.view.blocks import Row
from calibration.families.gas.admit_set import refused, target_of
from calibration.families.gas.exposure import IN_AIR, by_gas, made
from calibration.families.gas.facts import channels, contents, detector
from calibration.families.gas.forcing import forced
from calibration.families.gas.gases import (
    answer,
    drawn_l,
    found_of,
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
from calibration.families.gas.ledger import gas_of
from calibration.families.gas.outcomes import OUTCOMES, outcome_at
from calibration.families.gas.sensor import of_new
from calibration.families.gas.state import ForceState, GasLine, GasState, Todo
from calibration.families.gas.words import Exposure, GasRun, GasSet
from calibration.gas.cylinder import Channel, Purpose, in_words, table_of
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.kernel.rounding import show, trimmed

GASES = {
    "air": "Air around",
    "zero": "Zero gas",
    "span": "Span gas",
    "nitrogen": "Nitrogen",
    "proof": "Bottled air",
}


def gas_state(job: Reads) -> GasState | None:
    """Return the gas that is wanted now; none where the present step wants none."""
    wanted = present(job)
    if wanted is None:
        return None
    step, purpose, channel = wanted
    c = channels(job.ledger.facts)[channel]
    role = role_for(job.ledger, purpose, channel)
    chosen = job.ledger.kit.get(role)
    flow = gas_of(job.ledger).flowing
    on = flow is not None and flow.content.role == role
    minutes = minutes_for(job.settings, purpose)
    ready = flow.on.when + timedelta(minutes=float(minutes)) if flow is not None and on else None
    value = value_of(job.ledger, job.settings, purpose, channel)
    inside = contents(chosen.asset) if chosen is not None else None
    used = used_l(job, role, chosen.asset.asset) if chosen is not None else Decimal(0)
    return GasState(
        step=step.id,
        todo=_todo(job, step, purpose, on),
        channel=c.id,
        channel_label=c.label,
        purpose=purpose,
        role=role,
        cylinder=chosen.asset.asset if chosen is not None else "",
        contents=in_words(inside, lel_set_of(job.settings)) if inside else "",
        value="" if value is None else trimmed(value),
        unit=c.unit,
        flow=f"{trimmed(c.flow_l_per_min)} L/min" if role else "",
        flow_value=format(c.flow_l_per_min, "f"),
        advice=_advice(job, c, purpose, _todo(job, step, purpose, on)),
        minutes=trimmed(minutes),
        since=flow.on.at if flow is not None and on else "",
        ready_at=ready.isoformat() if ready is not None else "",
        drawn=f"{show(drawn_l(flow, job.now), 2)} L" if flow is not None and on else "",
        needed=f"{show(max(Decimal(0), needs_l(job, role) - used), 1)} L" if role else "",
        left=f"{show(max(Decimal(0), inside.left_l - used), 1)} L" if inside else "",
        usual_t90_s=to_float(c.usual_t90_s or c.t90_s),
        shut_after=bool(role),
        target=trimmed(target_of(job, step)) if isinstance(step, GasSet) else "",
        end=step.end if isinstance(step, GasSet) else "",
        force=_force(job, step),
    )


def _todo(job: Reads, step: Step, purpose: Purpose, on: bool) -> Todo:
    flow = gas_of(job.ledger).flowing
    if flow is not None and flow.content.flush:
        return "shut"
    if isinstance(step, Exposure):
        if on and made(job, step):
            return "shut"
        return "set" if on or purpose in IN_AIR else "open"
    if isinstance(step, GasSet):
        if step.id in gas_of(job.ledger).set_now:
            return "shut"
        return "set" if on or purpose == "air" else "open"
    if gas_of(job.ledger).flowing is not None and not on:
        return "shut"
    complete = len(job.ledger.readings[step.run]) >= len(job.plan_of(step.run))
    if complete:
        return "shut"
    return "read" if on or purpose == "air" else "open"


def _advice(job: Reads, c: Channel, purpose: Purpose, todo: Todo) -> str:
    said = []
    typed = job.ledger.opened.asks and not job.ledger.facts.rig
    if purpose == "span" and todo == "open" and typed and c.gas != "oxygen":
        said.append("Have your watch ready: the time to 90 % counts from when you open it.")
    if purpose != "air" and c.humid:
        said.append("Through the humidifier.")
    if purpose != "air" and c.demand:
        said.append("Through a demand-flow regulator: it draws what it needs.")
    if c.principle == "infrared" and purpose == "span":
        said.append("A fast rise can pass its end before it settles: wait for it.")
    if c.principle == "infrared" and purpose == "zero":
        said.append("Dry and free of hydrocarbons; flush the optical path first.")
    return " ".join(said)


def _force(job: Reads, step: Step) -> ForceState | None:
    if isinstance(step, Exposure):
        return forced(job, step) if step.goes_on else None
    if not isinstance(step, GasSet) or step.id in gas_of(job.ledger).set_now:
        return None
    seen = _last_seen(job, step)
    if seen is None:
        return None
    why, may = refused(job, step, seen)
    entry = gas_of(job.ledger).agreed.get(step.id)
    if not why:
        return None
    by = ""
    if entry is not None:
        content = entry[0]
        by = content.name if content.way == "second_person" else ""
        by = by or (f"{content.asset.asset} agrees" if content.asset else "")
    return ForceState(refused=why, may_force=may, agreed=by)


def _last_seen(job: Reads, step: GasSet) -> Decimal | None:
    """Return what the channel showed last in the gas that a step sets with. [gas unit]"""
    found = found_of(job, step.channel)
    # What the sensor of before showed says nothing of a new one.
    names = (found.again,) if renewed(job.ledger) else (found.again, found.id)
    for name in names:
        figures = job.figures(name)
        gases = gases_of(job.settings, job.ledger.method.run(name))
        for i in figures.order:
            if gases[i] == step.gas:
                return shows(figures.facts, figures.taken[i].content)
    return None


def gas_lines(job: Reads) -> tuple[GasLine, ...]:
    """Return what was read with each gas so far, in words."""
    found: list[GasLine] = []
    for run in job.ledger.method.runs:
        if isinstance(run, GasRun) and run.channel < len(channels(job.ledger.facts)):
            figures = job.figures(run.id)
            gases = gases_of(job.settings, run)
            found += [_line(job, run.id, figures, i, gases[i]) for i in figures.order]
    return tuple(found)


def _line(job: Reads, run: str, figures: RunFigures, index: int, purpose: Purpose) -> GasLine:
    spec = job.ledger.method.run(run)
    c = channels(job.ledger.facts)[spec.channel]
    content = figures.taken[index].content
    seen, took = shows(figures.facts, content), answer(content).t90_s
    gas = content.applied
    outcome = outcome_at(job, figures, index, purpose)
    percent = HUNDRED * seen / gas if gas else None
    raw = of_new(job, run)
    known = percent is not None and c.expected_percent is not None
    peak = answer(content).peak
    told = peak is not None and by_gas(job.ledger)
    also = f"; peak {trimmed(peak)} {c.unit}" if told and peak is not None else ""
    return GasLine(
        run=spec.title,
        channel=c.label,
        gas=f"{GASES[purpose]}{f' {trimmed(gas)} {c.unit}' if gas else ''}",
        reading=f"{trimmed(seen)} {c.unit}",
        outcome=outcome,
        label=OUTCOMES[outcome] + also,
        text=figures.causes[0].evidence if figures.causes and outcome != "accepted" else "",
        response=f"{show(percent, 1)} %" if percent is not None else "",
        last=f"trend expects {trimmed(c.expected_percent)} %"
        if known and c.expected_percent is not None and purpose != "air"
        else "",
        of_new=f"{show(raw, 0)} % of new" if raw is not None and purpose == "span" else "",
        t90=f"{show(took, 0)} s" if took is not None else "",
    )


def range_words(job: Reads) -> str:
    """Return the gases with their ranges, and the table behind every %LEL."""
    facts = job.ledger.facts
    gases = channels(facts)
    if len(gases) > 2:
        text = ", ".join(c.gas for c in gases)
    elif len(gases) > 1:
        text = ", ".join(f"{c.gas} to {trimmed(c.range)} {c.unit}" for c in gases)
    else:
        text = f"{trimmed(facts.input_lower)} to {trimmed(facts.input_upper)} {facts.input_unit}"
    if not any(c.unit == "%LEL" for c in gases):
        return text
    return f"{text}; %LEL by {table_of(lel_set_of(job.settings))}"


def output_words(job: Reads) -> str:
    """Return the output, or that it is read off the display."""
    facts = job.ledger.facts
    if facts.output_unit == "gas":
        return "own display"
    ends = f"{trimmed(facts.output_lower)} to {trimmed(facts.output_upper)}"
    return f"{ends} {facts.output_unit}"


def span_words(facts: InstrumentFacts) -> str:
    """Return the range gas by gas."""
    return ", ".join(f"{c.gas} to {c.range} {c.unit}" for c in channels(facts))


def plate(facts: InstrumentFacts) -> tuple[Row, ...]:
    """Return channels, cover rule and held output as lines of the record."""
    own = detector(facts)
    cover = "stays shut: magnet or remote" if own.cover_shut else "opened: area declared safe"
    return (
        *(
            Row(
                label=f"Channel {c.id.upper()}",
                value=f"{c.gas} to {c.range} {c.unit}, {c.principle}",
            )
            for c in own.channels
        ),
        Row(label="Cover", value=cover),
        Row(label="Output when held", value=f"{own.inhibit_ma} mA"),
    )
