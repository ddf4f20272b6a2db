"""Gas in a job: what is applied where, what it should read, how long, how much, and what it shows.

Everything here is worked out from the method, the cylinders chosen and the times at which gas
went on and off.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import datetime, timedelta
from decimal import Decimal
from typing import cast
from weakref import WeakKeyDictionary

from calibration.decisions.tolerance import Tolerance
from calibration.engine.job import events as ev
from calibration.engine.job.ledger import AGAIN, Ledger, Taken
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import renewed
from calibration.engine.method.method import KitRole, RunSpec, Step
from calibration.families.gas import airproof
from calibration.families.gas.events import Answer
from calibration.families.gas.facts import channels, contents, detector
from calibration.families.gas.ledger import Flow, gas_of
from calibration.families.gas.words import Exposure, GasRole, GasRun, GasSet
from calibration.gas.cylinder import Channel, Fit, Purpose, fits, value_on
from calibration.gas.table import LelSet
from calibration.kernel.codec import read
from calibration.kernel.numbers import HUNDRED, ZERO, from_float, parse_decimal
from calibration.runs.points import PlannedPoint
from calibration.signals.transfer import input_for

#: Suffixes of runs and roles by channel.
SUFFIX = ("", "_b", "_c", "_d")


#: Fields in which another, proven instrument says what is in the air.
OTHER_INSTRUMENT = "air_"
#: Fields in which it says itself what is in the air, where that is told and not read as a run.
AROUND = "around_"
#: What a step puts on that brings gas to the sensor.
ADAPTER = "adapter"


def answer(content: ev.ReadingTaken) -> Answer:
    """Return what a detector did in the gas, beside its reading."""
    return read(Answer, content.own, "data")


def gas_run(job: Reads, step: Step) -> GasRun | None:
    """Return the run with gas that a step takes; none for any other step."""
    if step.kind != "capture":
        return None
    spec = job.ledger.method.run(step.run)
    return spec if isinstance(spec, GasRun) else None


def air_found(job: Reads, channel: int) -> Taken | None:
    """Return what a channel showed in the air around before gas came near; none unread."""
    for spec in job.ledger.method.runs:
        if (
            isinstance(spec, GasRun)
            and (spec.gases, spec.channel) == (("air",), channel)
            and spec.role == "check"
            and spec.before
        ):
            return job.ledger.readings[spec.id].get(0)
    return None


def air_shown(job: Reads, channel: int) -> Decimal | None:
    """Return what a channel showed in the air around before gas came near; none unread."""
    around = air_found(job, channel)
    if around is not None:
        return shows(job.facts_of(around.content.run), around.content)
    return _told(job, AROUND + channels(job.ledger.facts)[channel].id)


def beside(job: Reads, c: Channel) -> Decimal | None:
    """Return what another instrument showed in the same air; none where it was not read."""
    return _told(job, OTHER_INSTRUMENT + c.id)


def _told(job: Reads, name: str) -> Decimal | None:
    """Return a value that was told in any step; none where nobody did."""
    said = {field: value for (_, field), (value, _) in job.ledger.recorded.items()}
    return parse_decimal(said[name], name) if said.get(name) else None


def lel_set_of(settings: Settings) -> LelSet:
    """Return the site's table of explosive limits."""
    return cast(LelSet, settings.choice("lel_set")) if settings.has("lel_set") else "IEC"


def role_for(ledger: Ledger, purpose: Purpose, channel: int) -> str:
    """Return the kit role that a gas comes from; empty for the air around.

    A channel may have a zero gas of its own, where the method asks for one.
    """
    if purpose in ("air", "absorber"):
        return ""
    if purpose == "nitrogen":
        return "nitrogen"
    own = f"{purpose}_gas{SUFFIX[channel]}"
    asked = (r.id for s in ledger.method.steps for r in s.roles)
    return own if purpose == "span" or own in asked else "zero_gas"


def gas_facts(
    facts: ev.InstrumentFacts,
    channel: int,
    display: bool,
    oxygen_limit: Decimal | None = None,
) -> ev.InstrumentFacts:
    """Return a detector as one of its channels: unit, range, output and limit of that gas.

    ``display``: it is read at its display, and not at its output. ``oxygen_limit``: what oxygen
    is allowed, where the channel has no limit of its own. [% vol]
    """
    if channel >= len(channels(facts)):
        return facts
    c = channels(facts)[channel]
    found = replace(facts, input_unit=c.unit, input_lower=ZERO, input_upper=c.range)
    own = next((x.tolerance for x in detector(facts).channel_limits if x.channel == c.id), None)
    if own is not None:
        found = replace(found, tolerance=own)
    elif c.gas == "oxygen" and oxygen_limit is not None:
        found = replace(found, tolerance=Tolerance(absolute=oxygen_limit))
    if display or facts.output_unit != "mA":
        found = replace(found, output_unit=c.unit, output_lower=ZERO, output_upper=c.range)
    return found


def bottled(ledger: Ledger) -> bool:
    """Tell whether bottled air is at hand, by which oxygen is read and set."""
    return role_for(ledger, "proof", 0) in ledger.kit


def value_of(ledger: Ledger, settings: Settings, purpose: Purpose, channel: int) -> Decimal | None:
    """Return what a channel should show with a gas; none while no cylinder is chosen for it."""
    c = channels(ledger.facts)[channel]
    if purpose == "air":
        return c.rest if c.gas != "oxygen" else airproof.holds(ledger)
    if purpose in ("zero", "nitrogen", "absorber"):
        return ZERO
    chosen = ledger.kit.get(role_for(ledger, purpose, channel))
    inside = contents(chosen.asset) if chosen is not None else None
    return value_on(inside, c, lel_set_of(settings)) if inside is not None else None


def gas_plan(ledger: Ledger, settings: Settings, spec: RunSpec) -> tuple[PlannedPoint, ...]:
    """Return the points of a run with gas: one for each gas that is applied."""
    if spec.channel >= len(channels(ledger.facts)):
        return ()
    c = channels(ledger.facts)[spec.channel]
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
    gases = spec.gases if isinstance(spec, GasRun) else ()
    return tuple(g for g in gases if g != "nitrogen" or settings.says_yes("nitrogen_zero"))


def minutes_for(settings: Settings, purpose: Purpose) -> Decimal:
    """Return how long a gas is applied. [min]"""
    return settings.number("span_minutes" if purpose == "span" else "zero_minutes")


#: a step, a role, a channel and a purpose
Use = tuple[Step, str, int, Purpose]
#: by job, as it stands: it is asked for each role of each step
_USES: WeakKeyDictionary[Reads, tuple[Use, ...]] = WeakKeyDictionary()


def uses(job: Reads) -> tuple[Use, ...]:
    """Return every step, role, channel and purpose for which the job may open a cylinder."""
    if job not in _USES:
        _USES[job] = tuple(_uses(job))
    return _USES[job]


def _uses(job: Reads) -> Iterator[Use]:
    for step in job.ledger.method.steps:
        if not job.possible(step):
            continue
        if isinstance(step, GasSet) and step.gas != "air":
            yield step, role_for(job.ledger, step.gas, step.channel), step.channel, step.gas
        if isinstance(step, Exposure) and role_for(job.ledger, step.gas, step.channel):
            yield step, role_for(job.ledger, step.gas, step.channel), step.channel, step.gas
        spec = gas_run(job, step)
        if spec is not None:
            for purpose in gases_of(job.settings, spec):
                if purpose != "air":
                    yield step, role_for(job.ledger, purpose, spec.channel), spec.channel, purpose


def needs_l(job: Reads, role: str) -> Decimal:
    """Return the gas that a job takes at most from a role: flow x time over all steps. [L]"""
    total = ZERO
    for _, used_role, channel, purpose in uses(job):
        if used_role == role:
            flow = channels(job.ledger.facts)[channel].flow_l_per_min
            total += flow * minutes_for(job.settings, purpose)
    return total


def drawn_l(flow: Flow, now: datetime) -> Decimal:
    """Return what one opening has drawn: flow x time. [L]"""
    end = flow.off.when if flow.off is not None else now
    minutes = Decimal(max(0, (end - flow.on.when) // timedelta(milliseconds=1))) / 60000
    return flow.content.flow * minutes


def used_l(job: Reads, role: str, asset: str) -> Decimal:
    """Return what a job has drawn from a cylinder in a role so far. [L]"""
    flows = (
        f
        for f in gas_of(job.ledger).flows
        if f.content.role == role and f.asset is not None and f.asset.asset == asset
    )
    return sum((drawn_l(f, job.now) for f in flows), ZERO)


def fit_of(job: Reads, role: KitRole, asset: ev.AssetFacts) -> Fit:
    """Judge a cylinder for a role of this job."""
    inside = contents(asset)
    if inside is None or not isinstance(role, GasRole):
        return Fit(False, False, f"{asset.asset} is no cylinder.", None, "")
    channel = channels(job.ledger.facts)[role.channel]
    needed = max(ZERO, needs_l(job, role.id) - used_l(job, role.id, asset.asset))
    return fits(inside, channel, role.purpose, lel_set_of(job.settings), needed)


def shows(facts: ev.InstrumentFacts, content: ev.ReadingTaken) -> Decimal:
    """Return what a reading means in the gas unit: the display where it was read, else the output.

    Raises
    ------
    Nothing.
    """
    if content.digital is not None:
        return content.digital
    return input_for(facts.transfer, content.reading)


def present(job: Reads) -> tuple[Step, Purpose, int] | None:
    """Return step, purpose and channel of the gas that is wanted now; none when none is."""
    step = job.current
    if step is None:
        return None
    if isinstance(step, GasSet | Exposure):
        return step, step.gas, step.channel
    spec = gas_run(job, step)
    if spec is None:
        return None
    gases = gases_of(job.settings, spec)
    taken = job.ledger.readings[spec.id]
    index = next((i for i in range(len(gases)) if i not in taken), len(gases) - 1)
    return (step, gases[index], spec.channel) if gases else None


def has_adapter(ledger: Ledger) -> bool:
    """Tell whether the method brings gas through an adapter or a tube."""
    return any(s.on_kind == ADAPTER for s in ledger.method.steps)


def adapter_on(ledger: Ledger) -> bool:
    """Tell whether the adapter is on the detector."""
    return any(s.on_kind == ADAPTER for s, _ in ledger.on_now())


def clear_below(job: Reads, channel: int) -> Decimal:
    """Return how far from clean air a reading may be for the bypass to come off. [gas unit]"""
    c: Channel = channels(job.ledger.facts)[channel]
    value = value_of(job.ledger, job.settings, "span", channel)
    base = c.rest if c.gas == "oxygen" else value or c.gas_value or c.range / 2
    least = c.range * from_float(0.01)
    return max(least, base * job.settings.share("clear_percent"))


def left_on(ledger: Ledger, step: Step) -> bool:
    """Tell whether gas that was opened in a step still flows."""
    flow = gas_of(ledger).flowing
    return flow is not None and flow.content.step == step.id


def found_of(job: Reads, channel: int) -> RunSpec:
    """Return the as-found run of a channel."""
    return next(r for r in job.ledger.method.runs_of("found") if r.channel == channel)


def _any_off(job: Reads) -> bool:
    """Tell whether anything reads near or outside; where nothing does, all is set as chosen."""
    count = len(channels(job.ledger.facts))
    names = [r.id for r in job.ledger.method.runs if r.before and r.channel < count]
    names += [r.again for r in job.ledger.method.runs_of("found") if r.again]
    marks = {job.figures(n).mark for n in names if job.ledger.readings[n]}
    return bool(marks & {"near", "outside"}) or any(air_off(job, n) for n in range(count))


def off(job: Reads, channel: int) -> bool:
    """Tell whether a channel of a detector is to be adjusted, by what was found."""
    if job.settings.has("school") and job.settings.always_adjust:
        return True
    if renewed(job.ledger):
        return True
    again = found_of(job, channel).again
    names = [r.id for r in job.ledger.method.runs if r.channel == channel and r.before]
    if job.ledger.readings[again]:
        names = [again]
    if {job.figures(name).mark for name in names} & {"near", "outside"}:
        return True
    if air_off(job, channel):
        return True
    return job.chosen() == AGAIN and not _any_off(job)


def air_off(job: Reads, channel: int) -> bool:
    """Tell whether clean air reads so that the bypass could not come off afterwards."""
    name = next(
        (
            r.id
            for r in job.ledger.method.runs
            if isinstance(r, GasRun) and (r.gases, r.channel, r.clear) == (("air",), channel, False)
        ),
        "",
    )
    taken = job.ledger.readings[name].get(0) if name else None
    if taken is None:
        return False
    away = shows(job.facts_of(name), taken.content) - channels(job.ledger.facts)[channel].rest
    return abs(away) > clear_below(job, channel)
