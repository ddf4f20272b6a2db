"""Whether zero or span may be set, is left as it is, or must not be touched."""

from __future__ import annotations

from decimal import Decimal

from calibration.detector.adjusting import SpanIn, ZeroIn, span, zero
from calibration.detector.naming import BACKGROUND
from calibration.detector.visit import Outcome
from calibration.engine.job.events import Event
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Step
from calibration.families.gas import airproof
from calibration.families.gas.admit import cylinder_of
from calibration.families.gas.causes import VOLTAGE_OFF, reference_off
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import (
    adapter_on,
    air_shown,
    beside,
    found_of,
    gases_of,
    present,
    role_for,
    shows,
    value_of,
)
from calibration.families.gas.ledger import gas_of
from calibration.families.gas.parts import OTHER_INSTRUMENT
from calibration.families.gas.sensor import of_new
from calibration.families.gas.words import GasRun, GasSet
from calibration.gas.cylinder import Channel
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, from_float, parse_decimal, to_float
from calibration.kernel.rounding import show, trimmed

#: What is set is asked about when it ends further from where it was to be. [share of range]
NEAR_TARGET = Decimal("0.02")


def may_keep(job: Reads, step: GasSet) -> bool:
    """Tell whether the end of a step read within its limit, so that it need not be set."""
    first = found_of(job, step.channel)
    others = (r for r in job.ledger.method.runs_of("found") if r.channel == step.channel)
    for spec in dict.fromkeys((first, *others)):
        gases = gases_of(job.settings, spec)
        for name in (spec.again, spec.id):
            figures = job.figures(name) if name else None
            if figures is None or not figures.order or step.gas not in gases:
                continue
            at = gases.index(step.gas)
            if at not in figures.order:
                return False
            return figures.marks[figures.order.index(at)] in ("within", "near")
    return False


def _since(job: Reads) -> str:
    return "it was put right" if _put_right(job) else "the visit began"


def _put_right(job: Reads) -> int:
    """Return the number of the entry since which it is another sensor, or a cleaned one; 0."""
    decided = (e.seq for c, e in job.ledger.decided.values() if c.choice == "replace")
    return max((*decided, *(e.seq for _, e in job.ledger.repaired)), default=0)


def read_last(job: Reads, step: GasSet) -> Decimal | None:
    """Return what the channel showed last in the gas of a step; none since a repair. [gas unit]"""
    since = _put_right(job)
    seen = []
    for spec in job.ledger.method.runs:
        if spec.channel != step.channel or not isinstance(spec, GasRun):
            continue
        for name in (spec.again, spec.id):
            taken = job.ledger.readings[name] if name else {}
            gases = gases_of(job.settings, spec)
            for at, one in taken.items():
                if at < len(gases) and gases[at] == step.gas and one.event.seq > since:
                    shown = shows(job.facts_of(name), one.content)
                    seen.append((one.event.seq, shown))
    return max(seen)[1] if seen else None


def left_refused(job: Reads, step: Step) -> bool:
    """Tell whether what the detector refused in a step may be left so, to be decided later."""
    since = _put_right(job)
    return step.goes_on and any(c.step == step.id and e.seq > since for c, e in job.ledger.refused)


def gas_kept(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse to leave an end as it is that is not to be set now, or that read outside.

    Raises
    ------
    InputError
        ``gas.not_due``, ``kept.outside``.
    """
    step = job.step(event.content.step)
    wanted = present(job)
    if wanted is not None and wanted[0].id == step.id and left_refused(job, step):
        return
    if wanted is None or wanted[0].id != step.id or not isinstance(step, GasSet):
        raise InputError(
            "gas.not_due", "data.step", "Nothing is set there now.", "Go on with the present step."
        )
    if not may_keep(job, step):
        raise InputError(
            "kept.outside",
            "data.step",
            f"The {step.end} did not read within its limit.",
            "Set it; or say that the device refuses, or end the job here.",
        )


def judged(job: Reads, step: GasSet, before: Decimal) -> tuple[Outcome, str]:
    """Return whether zero or span may be set from what is shown, and why not."""
    c = channels(job.ledger.facts)[step.channel]
    settings = job.settings
    if step.end == "zero":
        found = zero(
            ZeroIn(
                value=to_float(before - (c.rest if step.gas == "air" else 0)),
                range=to_float(c.range),
                allowed_percent=to_float(settings.number("zero_allowed_percent")),
            )
        )
        return found.outcome, found.advice
    gas = value_of(job.ledger, settings, step.gas, step.channel) or c.rest
    result = span(
        SpanIn(
            value=to_float(before),
            gas_value=to_float(gas),
            zero_value=0.0,
            range=to_float(c.range),
            allowed_low_percent=to_float(settings.number("span_low_percent")),
            allowed_high_percent=to_float(settings.number("span_high_percent")),
        )
    )
    return result.outcome, result.advice


def background(job: Reads, channel: int, before: Decimal) -> Decimal | None:
    """Return by how much the air around reads more than zero gas, where that is gas. [% range]"""
    around = air_shown(job, channel)
    if around is None:
        return None
    c = channels(job.ledger.facts)[channel]
    more = HUNDRED * (around - before) / c.range
    return more if more > from_float(BACKGROUND) else None


def _much(c: Channel) -> Decimal:
    """Return how much gas around is too much to work in: the first alarm, or a tenth. [% range]"""
    return HUNDRED * c.alarm / c.range if c.alarm else Decimal(10)


def _agrees_with_air(job: Reads, step: GasSet, before: Decimal) -> bool:
    """Tell whether the air around and the bottle say the same: then the zero itself has moved."""
    around = air_shown(job, step.channel)
    if around is None:
        return False
    c = channels(job.ledger.facts)[step.channel]
    return HUNDRED * abs(around - before) <= from_float(BACKGROUND) * c.range


def refused(
    job: Reads, step: GasSet, before: Decimal, other: Decimal | None = None
) -> tuple[str, bool]:
    """Return why zero or span may not be set, and whether that may be forced.

    ``other``: what another instrument shows in the same air, where that is said with it.
    """
    c = channels(job.ledger.facts)[step.channel]
    if step.end == "zero" and step.goes_on and _gas_beside(job, c):
        return (
            "Another instrument shows gas in the air: it is there. Leave, and follow the site's "
            "alarm procedure; a zero set now would hide it.",
            False,
        )
    if step.end == "zero" and c.gas != "oxygen":
        more = background(job, step.channel, before)
        # Under the adapter a bottle is clean, whatever is around; unless nobody should be here.
        if more is not None and (step.gas == "air" or more >= _much(c)):
            return (
                f"The air around reads {show(more, 1)} % of range more than zero gas: there is "
                "gas around, and a zero set now would hide it.",
                False,
            )
        if step.gas == "air" and not _air_tested(job, c, other):
            return (
                "The air around was not tested, or is not clean: it is no zero gas.",
                False,
            )
    if c.gas == "oxygen" and step.gas == "air" and airproof.asked(job.ledger):
        why = airproof.doubt(job.ledger, other)
        if why:
            return why, False
    if step.end == "span" and abs(reference_off(job, step.channel)) > VOLTAGE_OFF:
        return (
            f"The reference voltage is {reference_off(job, step.channel):+.1f} % off the gas of "
            "today: the span would be set for another gas. Set the voltage first, or take the gas "
            "that it stands for.",
            False,
        )
    if step.goes_on and step.end == "span" and _spent(job, step.channel):
        return "It answers less than a sensor is replaced at: no span is forced on it.", False
    outcome, advice = judged(job, step, before)
    if outcome == "accepted":
        return "", True
    return advice, outcome != "zero_gas_suspect" or _agrees_with_air(job, step, before)


def _gas_beside(job: Reads, c: Channel) -> bool:
    """Tell whether another instrument in the same air was read, and shows gas."""
    shown = beside(job, c)
    return shown is not None and c.gas != "oxygen" and abs(shown - c.rest) > c.range / 100


def _spent(job: Reads, channel: int) -> bool:
    """Tell whether a sensor answers less than it is replaced at, by what was read of it last."""
    spec = found_of(job, channel)
    name = spec.again if spec.again and job.ledger.readings[spec.again] else spec.id
    left = of_new(job, name)
    return left is not None and left < job.settings.number("replace_percent")


def _air_tested(job: Reads, c: Channel, other: Decimal | None) -> bool:
    """Tell whether another instrument found the air clean for this channel."""
    if other is not None:
        return abs(other - c.rest) <= c.range / 100
    found = next(
        (
            v
            for (_, field), (v, _) in job.ledger.recorded.items()
            if field == OTHER_INSTRUMENT + c.id
        ),
        None,
    )
    if found is None:
        return False
    return abs(parse_decimal(found, OTHER_INSTRUMENT + c.id)) <= c.range / 100


def gas_set(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse a zero or span with the wrong gas on, or one that must not be set.

    Raises
    ------
    InputError
        ``gas.*``, ``value.missing``, ``set.refused``, ``set.background``, ``slip.suspected``.
    """
    content = event.content
    step = job.step(content.step)
    wanted = present(job)
    if wanted is None or wanted[0].id != step.id or not isinstance(step, GasSet):
        raise InputError(
            "gas.not_due", "data.step", "Nothing is set there now.", "Go on with the present step."
        )
    role, flow = role_for(job.ledger, step.gas, step.channel), gas_of(job.ledger).flowing
    if role and (flow is None or flow.content.role != role):
        raise InputError(
            "gas.not_on",
            "data.before",
            f"{cylinder_of(job, role)} is not open.",
            f"Open {cylinder_of(job, role)} and wait until it is steady.",
        )
    if not role and (flow is not None or adapter_on(job.ledger)):
        raise InputError(
            "gas.not_air",
            "data.before",
            "Gas is open or the adapter is on: that is not the air around.",
            "Shut the gas and take the adapter off first.",
        )
    before = content.before if content.before is not None else read_last(job, step)
    if before is None:
        raise InputError(
            "value.missing",
            "data.before",
            f"It was not read in this gas since {_since(job)}.",
            "Type what it shows before it is set: by that it may be set or not.",
        )
    why, may_force = refused(job, step, before)
    if why and not (may_force and step.id in gas_of(job.ledger).agreed):
        raise InputError(
            "set.refused" if may_force else "set.background",
            "data.before",
            why,
            "Stop and find the cause. Forcing takes a reason and a second person or a check with "
            "another cylinder."
            if may_force
            else "Do not set it. Stop, tell the operator, and find out what is around.",
        )
    target = target_of(job, step)
    c = channels(job.ledger.facts)[step.channel]
    if abs(content.after - target) > c.range * NEAR_TARGET and not content.kept:
        raise InputError(
            "slip.suspected",
            "data.after",
            f"After setting it shows {trimmed(content.after)}, not {trimmed(target)}. Keep it?",
            "Correct it or keep it.",
            format(target, "f"),
        )


def target_of(job: Reads, step: GasSet) -> Decimal:
    """Return what a channel is to show after zero or span is set. [gas unit]"""
    value = value_of(job.ledger, job.settings, step.gas, step.channel)
    return value if value is not None else Decimal(0)
