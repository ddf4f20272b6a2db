"""Gas in a job: what is applied where, what it should read, how long, how much, and what it shows.

Everything here is worked out from the method, the cylinders chosen and the times at which gas
went on and off.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import datetime, timedelta
from decimal import Decimal
from typing import TYPE_CHECKING, cast

from calibration.engine import events as ev
from calibration.engine.ledger import Flow, Ledger
from calibration.engine.method import KitRole, RunSpec, Step
from calibration.engine.parameters import Settings
from calibration.gas.cylinder import Channel, Fit, Purpose, fits, value_on
from calibration.gas.table import LelSet
from calibration.kernel.numbers import HUNDRED, ZERO, from_float
from calibration.runs.points import PlannedPoint
from calibration.signals.transfer import input_for

if TYPE_CHECKING:
    from calibration.engine.job import Job

#: Suffixes of runs and roles by channel.
SUFFIX = ("", "_b", "_c", "_d")


def lel_set_of(settings: Settings) -> LelSet:
    """Return the site's table of explosive limits."""
    return cast(LelSet, settings.choice("lel_set")) if settings.has("lel_set") else "IEC"


def role_for(purpose: Purpose, channel: int) -> str:
    """Return the kit role that a gas comes from; empty for the air around."""
    return {"zero": "zero_gas", "nitrogen": "nitrogen", "air": ""}.get(
        purpose, f"span_gas{SUFFIX[channel]}"
    )


def gas_facts(facts: ev.InstrumentFacts, channel: int) -> ev.InstrumentFacts:
    """Return a detector as one of its channels: unit, range and output of that gas."""
    if channel >= len(facts.channels):
        return facts
    c = facts.channels[channel]
    found = replace(facts, input_unit=c.unit, input_lower=ZERO, input_upper=c.range)
    if facts.output_unit != "mA":
        found = replace(found, output_unit=c.unit, output_lower=ZERO, output_upper=c.range)
    return found


def value_of(ledger: Ledger, settings: Settings, purpose: Purpose, channel: int) -> Decimal | None:
    """Return what a channel should show with a gas; none while no cylinder is chosen for it."""
    c = ledger.facts.channels[channel]
    if purpose == "air":
        return c.rest
    if purpose in ("zero", "nitrogen"):
        return ZERO
    chosen = ledger.kit.get(role_for(purpose, channel))
    if chosen is None or chosen.asset.gas is None:
        return None
    return value_on(chosen.asset.gas, c, lel_set_of(settings))


def gas_plan(ledger: Ledger, settings: Settings, spec: RunSpec) -> tuple[PlannedPoint, ...]:
    """Return the points of a run with gas: one for each gas that is applied."""
    if spec.channel >= len(ledger.facts.channels):
        return ()
    c = ledger.facts.channels[spec.channel]
    points = []
    for purpose in gases_of(settings, spec):
        value = value_of(ledger, settings, purpose, spec.channel)
        nominal = value if value is not None else c.gas_value or c.range / 2
        points.append(
            PlannedPoint(
                nominal_percent=HUNDRED * nominal / c.range,
                nominal=nominal,
                direction="up",
                cycle=1,
                approach=None,
            )
        )
    return tuple(points)


def gases_of(settings: Settings, spec: RunSpec) -> tuple[Purpose, ...]:
    """Return what is applied in a run; nitrogen only where the site wants it."""
    return tuple(g for g in spec.gases if g != "nitrogen" or settings.says_yes("nitrogen_zero"))


def minutes_for(settings: Settings, purpose: Purpose) -> Decimal:
    """Return how long a gas is applied. [min]"""
    return settings.number("span_minutes" if purpose == "span" else "zero_minutes")


def uses(job: Job) -> Iterator[tuple[Step, str, int, Purpose]]:
    """Yield every step, role, channel and purpose for which the job may open a cylinder."""
    for step in job.ledger.method.steps:
        if not job.possible(step):
            continue
        if step.kind == "gas_set" and step.gas != "air":
            yield step, role_for(step.gas, step.channel), step.channel, step.gas
        spec = job.gas_run(step)
        if spec is not None:
            for purpose in gases_of(job.settings, spec):
                if purpose != "air":
                    yield step, role_for(purpose, spec.channel), spec.channel, purpose


def needs_l(job: Job, role: str) -> Decimal:
    """Return the gas that a job takes at most from a role: flow x time over all steps. [L]"""
    total = ZERO
    for _, used_role, channel, purpose in uses(job):
        if used_role == role:
            flow = job.ledger.facts.channels[channel].flow_l_per_min
            total += flow * minutes_for(job.settings, purpose)
    return total


def drawn_l(flow: Flow, now: datetime) -> Decimal:
    """Return what one opening has drawn: flow x time. [L]"""
    end = flow.off.when if flow.off is not None else now
    minutes = Decimal(max(0, (end - flow.on.when) // timedelta(milliseconds=1))) / 60000
    return flow.content.flow * minutes


def used_l(job: Job, role: str) -> Decimal:
    """Return what a job has drawn from a role so far. [L]"""
    return sum((drawn_l(f, job.now) for f in job.ledger.flows if f.content.role == role), ZERO)


def fit_of(job: Job, role: KitRole, asset: ev.AssetFacts) -> Fit:
    """Judge a cylinder for a role of this job."""
    if asset.gas is None:
        return Fit(False, False, f"{asset.asset} is no cylinder.", None, "")
    channel = job.ledger.facts.channels[role.channel]
    needed = max(ZERO, needs_l(job, role.id) - used_l(job, role.id))
    return fits(asset.gas, channel, role.purpose, lel_set_of(job.settings), needed)


def shows(facts: ev.InstrumentFacts, content: ev.ReadingTaken) -> Decimal:
    """Return what a reading means in the gas unit: the display where it was read, else the output.

    Raises
    ------
    Nothing.
    """
    if content.digital is not None:
        return content.digital
    return input_for(facts.transfer, content.reading)


def present(job: Job) -> tuple[Step, Purpose, int] | None:
    """Return step, purpose and channel of the gas that is wanted now; none when none is."""
    step = job.current
    if step is None:
        return None
    if step.kind == "gas_set":
        return step, step.gas, step.channel
    spec = job.gas_run(step)
    if spec is None:
        return None
    gases = gases_of(job.settings, spec)
    taken = job.ledger.readings[spec.id]
    index = next((i for i in range(len(gases)) if i not in taken), len(gases) - 1)
    return (step, gases[index], spec.channel) if gases else None


def has_adapter(ledger: Ledger) -> bool:
    """Tell whether the method brings gas through an adapter or a tube."""
    return any(s.on_kind == "adapter" for s in ledger.method.steps)


def adapter_on(ledger: Ledger) -> bool:
    """Tell whether the adapter is on the detector."""
    return any(s.on_kind == "adapter" for s, _ in ledger.on_now())


def clear_below(job: Job, channel: int) -> Decimal:
    """Return how far from clean air a reading may be for the bypass to come off. [gas unit]"""
    c: Channel = job.ledger.facts.channels[channel]
    value = value_of(job.ledger, job.settings, "span", channel)
    base = c.rest if c.gas == "oxygen" else value or c.gas_value or c.range / 2
    least = c.range * from_float(0.01)
    return max(least, base * job.settings.share("clear_percent"))
