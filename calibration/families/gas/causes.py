"""What the readings of a detector point to: evidence from the job, and its causes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date
from decimal import Decimal

from calibration.decisions.tolerance import limit_at
from calibration.detector.naming import Evidence, Likeness, causes_of
from calibration.engine.job import events as ev
from calibration.engine.job.ledger import REPEAT_OTHER
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec
from calibration.families.gas.exposure import by_gas
from calibration.families.gas.facts import channels, contents, detector, holds
from calibration.families.gas.gases import (
    air_found,
    air_shown,
    answer,
    beside,
    gases_of,
    lel_set_of,
    role_for,
    shows,
    value_of,
)
from calibration.families.gas.sensor import of_new, zero_at
from calibration.families.gas.words import GasRun
from calibration.gas.cylinder import Channel, value_on
from calibration.gas.table import LelSet, published_lel
from calibration.kernel.errors import InputError
from calibration.kernel.fits import least_squares
from calibration.kernel.numbers import HUNDRED, from_float, to_float
from calibration.kernel.rounding import show
from calibration.runs.causes import Cause, cause
from calibration.signals.stability import Sample

#: So far off a reference voltage was set for another gas. [%]
VOLTAGE_OFF = 1.0
#: Share of a curve, at its end, from which the slope of a zero is taken.
TAIL = 0.4
#: A sensor answers otherwise by no more than this from one visit to the next. [%]
STEP = 30.0
#: Two gases were exchanged where each reads the other within this share of the span gas.
SWAPPED = 0.25
#: What is named by the size of an error alone, by the gas that shows it.
OF_ERRORS = {"zero": ("head_zero", "background_gas"), "span": ("aged", "span_error")}
GOOD = ("within", "near")
#: Shorter than this it says nothing. [s] A slope counts beyond so many standard errors.
TAIL_S, SURE = 15.0, 3.5


def evidence_of(job: Reads, run: str, figures: RunFigures) -> Evidence:
    """Return what a run and the steps around it say about one channel."""
    spec = job.ledger.method.run(run)
    c = channels(job.ledger.facts)[spec.channel]
    facts = figures.facts
    seen: dict[str, ev.ReadingTaken] = {}
    for n, purpose in enumerate(gases_of(job.settings, spec)):
        if n in figures.taken:
            seen[purpose] = figures.taken[n].content
    around = air_shown(job, spec.channel)
    # The air was read before anything was set: it tells nothing about later runs.
    before = around is not None and spec.id == run and spec.role == "found"
    in_air = None if seen.get("air") is None else shows(facts, seen["air"])
    air = around if before else in_air
    zero = seen.get("zero") or seen.get("nitrogen")
    span, gas_value = seen.get("span"), value_of(job.ledger, job.settings, "span", spec.channel)
    if c.gas == "oxygen" and (span is None or not gas_value):
        taken = air_found(job, spec.channel) if before else None
        read = taken.content if taken is not None else seen.get("air")
        span, gas_value = seen.get("proof") or read, c.rest
    chosen = job.ledger.kit.get(role_for(job.ledger, "span", spec.channel))
    asset = chosen.asset if chosen is not None else None
    inside = contents(asset) if asset is not None else None
    currents = [r.reading for r in seen.values()] if facts.output_unit == "mA" else []
    lel_set = lel_set_of(job.settings)
    gas_by_gas = by_gas(job.ledger)
    return Evidence(
        range=to_float(c.range),
        principle=c.principle,
        rest=to_float(c.rest),
        air=_float(air),
        zero=_shown(facts, zero),
        zero_slope=_slope(answer(zero).curve, c) if zero else None,
        gas_value=_float(gas_value),
        span=_shown(facts, span),
        accept_percent=_accept(facts, gas_value),
        t90_s=_float(answer(span).t90_s if span else None),
        usual_t90_s=to_float(c.usual_t90_s or c.t90_s),
        output_ma=to_float(min(currents)) if currents else None,
        inhibit_ma=to_float(detector(facts).inhibit_ma),
        flow=_float(answer(span).flow) if span and c.gas != "oxygen" else None,
        flow_wanted=to_float(c.flow_l_per_min),
        expired_days=_expired(job, asset, figures) if c.gas != "oxygen" else 0,
        oxygen_percent=inside.oxygen_percent if inside else 20.9,
        dry=bool(c.humid and inside and not inside.humidifier),
        other_channel_percent=_float(answer(span).other_percent if span else None),
        reference_off_percent=voltage_found_off(job, spec.channel)
        if gas_by_gas
        else _reference_off(job, c, gas_value),
        table_ratio=_table_ratio(c, asset, lel_set),
        shelf=_shelf(c, asset, gas_value, lel_set),
        expected_percent=_float(c.expected_percent),
        by_gas=gas_by_gas,
        beside=_float(beside(job, c)) if gas_by_gas else None,
        span_from=_float(zero_at(job, run)) if gas_by_gas else None,
        fixed_span=c.principle == "infrared" and (gas_by_gas or facts.output_unit == "mA"),
        of_new_percent=_float(of_new(job, run)) if spec.id == run else None,
        replace_percent=_float(_replaced_below(job)) or 0.0,
    )


def gas_causes(job: Reads, run: str, figures: RunFigures) -> tuple[Cause, ...]:
    """Return the causes of one run of a detector; none while nothing is read."""
    if not figures.order:
        return ()
    spec = job.ledger.method.run(run)
    if channels(job.ledger.facts)[spec.channel].gas == "oxygen":
        found = second_point(job, spec, figures)
        if found is not None:
            return found
    seen = evidence_of(job, run, figures)
    found = exchanged(seen) or _gas_first(job, seen, causes_of(seen).causes)
    if not seen.by_gas:
        return found
    # What is within its limits is no error of zero or span, however near it comes.
    at = gases_of(job.settings, spec)
    good = {at[i] for i, m in zip(figures.order, figures.marks, strict=True) if m in GOOD}
    none = {c for gas, causes in OF_ERRORS.items() if gas in good for c in causes}
    if seen.air is None and "zero" in good:
        none.add("zero_gas_suspect")
    return tuple(c for c in found if c.cause not in none)


def exchanged(seen: Evidence) -> tuple[Cause, ...]:
    """Return that zero and span gas were exchanged, where each reads what the other should."""
    if seen.zero is None or seen.span is None or not seen.gas_value or seen.principle == "oxygen":
        return ()
    near = SWAPPED * seen.gas_value
    if abs(seen.zero - seen.gas_value) > near or abs(seen.span) > near:
        return ()
    said = (
        f"Zero gas reads {seen.zero:.3g} and span gas {seen.span:.3g}: each what the other holds."
    )
    remedy = "Look at labels, hoses and valves: exchange the two gases and read again."
    return (cause("gases_exchanged", 100.0, said, remedy),)


def _gas_first(job: Reads, seen: Evidence, causes: tuple[Cause, ...]) -> tuple[Cause, ...]:
    """Put the gas first where a response fell further than a sensor does between two visits.

    Another cylinder tells; its course, or a second cylinder that was tried, speaks for the sensor.
    """
    first = causes[0] if causes else None
    if first is None or first.cause not in ("aged", "span_error") or abs(first.percent) <= STEP:
        return causes
    trend = seen.expected_percent
    explained = trend is not None and abs(100 + first.percent - trend) <= STEP / 2
    tried = any(a.decided.choice == REPEAT_OTHER for a in job.ledger.attempts)
    if explained or tried or not job.ledger.opened.asks:
        return causes
    more = "gains" if first.percent > 0 and seen.by_gas else "loses"
    said = f"{first.evidence} No sensor {more} so much at once: the gas is as likely."
    remedy = "Another cylinder before anything is set; no second one here: leave it undecided."
    return (cause("gas_in_doubt", first.percent, said, remedy, 0.5), *causes)


def in_air(job: Reads, channel: int) -> Decimal | None:
    """Return what oxygen showed in air, bottled or around, when it was read last. [% vol]"""
    seen = []
    for spec in job.ledger.method.runs:
        if spec.channel != channel or not isinstance(spec, GasRun):
            continue
        for i, gas in enumerate(gases_of(job.settings, spec)):
            taken = job.ledger.readings[spec.id].get(i)
            if gas in ("air", "proof") and taken is not None:
                shown = shows(job.facts_of(spec.id), taken.content)
                seen.append((taken.event.seq, shown))
    return max(seen)[1] if seen else None


def second_point(job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[Cause, ...] | None:
    """Return causes of a point that is not air: stuck, air drawn in, a zero; none elsewhere."""
    gases = gases_of(job.settings, spec)
    points = [i for i in figures.order if gases[i] in ("nitrogen", "span")]
    air = in_air(job, spec.channel)
    if not points or air is None:
        return None
    content = figures.taken[points[-1]].content
    seen, held = shows(figures.facts, content), content.applied
    size = to_float(HUNDRED * (seen - held) / channels(job.ledger.facts)[spec.channel].range)
    if abs(air - seen) < abs(air - held) / 2:
        return (
            cause(
                "stuck_between",
                size,
                f"It shows {show(seen, 1)} in {show(held, 1)} % vol and {show(air, 1)} in air: it "
                "does not move between two gases.",
            ),
        )
    place = figures.order.index(points[-1])
    if figures.marks[place] != "outside" or held:
        return ()
    if not job.ledger.attempts:
        return (
            cause(
                "air_leaks_in",
                size,
                f"It shows {show(seen, 1)} where there is no oxygen.",
            ),
        )
    return (cause("zero_shift", size, f"It stays at {show(seen, 1)}.", "Set its zero."),)


def _replaced_below(job: Reads) -> Decimal | None:
    name = "replace_percent"
    return job.settings.number(name) if job.settings.has(name) else None


def _float(value: Decimal | None) -> float | None:
    return None if value is None else to_float(value)


def _shown(facts: ev.InstrumentFacts, content: ev.ReadingTaken | None) -> float | None:
    return None if content is None else to_float(shows(facts, content))


def _accept(facts: ev.InstrumentFacts, gas_value: Decimal | None) -> float:
    if not gas_value:
        return 10.0
    share = limit_at(facts.transfer, facts.tolerance, gas_value) / abs(facts.transfer.output_span)
    limit = share * abs(facts.transfer.input_span)
    return max(0.1, min(90.0, to_float(HUNDRED * limit / gas_value)))


def _slope(curve: Sequence[Sample], c: Channel) -> float | None:
    """Return how the end of a curve moves; none of a short one, 0 where noise hides it.

    In % of range a minute. The standard error of a slope: Draper and Smith, section 1.4.
    """
    tail = curve[int(len(curve) * (1 - TAIL)) :]
    if len(tail) < 6 or tail[-1].t - tail[0].t < TAIL_S:
        return None
    x, y = [s.t / 60 for s in tail], [s.value for s in tail]
    line = least_squares(x, y)
    middle = sum(x) / len(x)
    rest = sum((b - line.at(a)) ** 2 for a, b in zip(x, y, strict=True)) / (len(x) - 2)
    doubt = math.sqrt(rest / sum((a - middle) ** 2 for a in x))
    if abs(line.slope) < SURE * doubt:
        return 0.0
    return 100 * line.slope / to_float(c.range)


def _expired(job: Reads, asset: ev.AssetFacts | None, figures: RunFigures) -> int:
    if asset is None:
        return 0
    newest = max((figures.taken[i].event for i in figures.order), key=lambda e: e.when)
    used = job.day_of(newest)
    return max(0, (used - date.fromisoformat(asset.due_on)).days)


def _reference_off(job: Reads, c: Channel, gas_value: Decimal | None) -> float:
    """Return how far the reference voltage is off the one that the gas asks for, as set. [%]"""
    said = {field: value for (_, field), (value, _) in job.ledger.recorded.items()}
    now = said.get(f"reference_set_{c.id}") or said.get(f"reference_{c.id}", "")
    return voltage_off(c, gas_value, now)


def voltage_found_off(job: Reads, channel: int) -> float:
    """Return how far the reference voltage was found off the one of today's gas. [%]"""
    c = channels(job.ledger.facts)[channel]
    said = {field: value for (_, field), (value, _) in job.ledger.recorded.items()}
    value = value_of(job.ledger, job.settings, "span", channel)
    return voltage_off(c, value, said.get(f"reference_{c.id}", ""))


def in_doubt(job: Reads) -> tuple[str, ...]:
    """Return what the paper says of reference voltages that were found set for another gas."""
    if not by_gas(job.ledger):
        return ()
    said = []
    for n, c in enumerate(channels(job.ledger.facts)):
        off, value = voltage_found_off(job, n), value_of(job.ledger, job.settings, "span", n)
        if value is not None and abs(off) > VOLTAGE_OFF:
            stood = from_float(to_float(value) * (1 + off / 100))
            said.append(
                f"Reference voltage of {c.gas} found {show(off, 1, sign=True)} %: set for "
                f"{show(stood, 1)} {c.unit}; its last span is in doubt."
            )
    return tuple(said)


def reference_off(job: Reads, channel: int) -> float:
    """Return how far the reference voltage is off the gas of today, as it is set now. [%]"""
    value = value_of(job.ledger, job.settings, "span", channel)
    return _reference_off(job, channels(job.ledger.facts)[channel], value)


def voltage_off(c: Channel, gas_value: Decimal | None, found: str) -> float:
    """Return how far a reference voltage is off the one that a gas asks for. [%]"""
    if not found or not c.full_scale_v or not gas_value:
        return 0.0
    wanted = gas_value * c.full_scale_v / c.range
    try:
        return to_float(HUNDRED * (Decimal(found) - wanted) / wanted)
    except ArithmeticError:
        return 0.0


def _table_ratio(c: Channel, asset: ev.AssetFacts | None, lel_set: LelSet) -> float | None:
    """Return how a bottle labelled by the other table reads; none where its table is known."""
    inside = contents(asset) if asset is not None else None
    if c.unit != "%LEL" or inside is None:
        return None
    part = next((p for p in inside.parts if p.gas == c.gas), None)
    if part is None or part.unit != "%LEL" or part.lel_set is not None:
        return None
    own = published_lel(c.gas, lel_set)
    other = published_lel(c.gas, "NFPA" if lel_set == "IEC" else "IEC")
    if not own or not other or own == other:
        return None
    return other / own


def _shelf(
    c: Channel, asset: ev.AssetFacts | None, gas_value: Decimal | None, lel_set: LelSet
) -> tuple[Likeness, ...]:
    found = []
    for one in holds(asset).shelf if asset else ():
        try:
            value = value_on(one.holds, c, lel_set)
        except InputError:
            continue
        if value and gas_value and abs(value - gas_value) > gas_value / 20:
            found.append(Likeness(name=one.asset, value=to_float(value)))
    return tuple(found)
