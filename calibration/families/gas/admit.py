"""Whether gas may go on, a reading with gas may count, and zero or span may be set."""

from __future__ import annotations

from decimal import Decimal

from calibration.detector.adjusting import SpanIn, ZeroIn, span, zero
from calibration.detector.naming import BACKGROUND, MEASURES_FROM_MA
from calibration.detector.visit import Outcome
from calibration.engine import events as ev
from calibration.engine.events import Event
from calibration.engine.method import RunSpec
from calibration.engine.reads import Reads
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import (
    adapter_on,
    air_found,
    clear_below,
    gases_of,
    has_adapter,
    minutes_for,
    present,
    role_for,
    shows,
    value_of,
)
from calibration.families.gas.ledger import gas_of
from calibration.families.gas.parts import OTHER_INSTRUMENT
from calibration.families.gas.words import GasRun, GasSet
from calibration.gas.cylinder import Channel
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, from_float, parse_decimal, to_float
from calibration.kernel.rounding import show, trimmed

NOT_YET_CLEAR = (
    "Wait and let air through. A reading that does not fall may be real gas: leave the "
    "bypass on, tell the operator, and follow the site's alarm procedure."
)
NEVER_CLEAR = (
    f"{NOT_YET_CLEAR} Where the air is proven good and it still reads so, it cannot be kept in "
    "service: take the decision back in the history, then set it or stop."
)
#: A flow further off than this is asked about. [% of the flow wanted]
FLOW_OFF = Decimal(20)
MA = Decimal(str(MEASURES_FROM_MA))


def refuse_while_on(job: Reads, event: Event) -> None:
    """Refuse to go on with anything else while gas flows.

    Raises
    ------
    InputError
        ``gas.on``.
    """
    flow = gas_of(job.ledger).flowing
    if flow is None or event.kind in _WITH_GAS:
        return
    raise InputError(
        "gas.on",
        "kind",
        f"{_name(job, flow.content.role)} is still open.",
        "Shut the cylinder first.",
    )


_WITH_GAS = ("gas_off", "gas_set", "reading_taken", "agreed", "noted", "retracted", "written")


def _name(job: Reads, role: str) -> str:
    chosen = job.ledger.kit.get(role)
    return chosen.asset.asset if chosen is not None else role


def gas_on(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse gas where it is not due, without adapter, or at another flow.

    Raises
    ------
    InputError
        ``gas.*``, ``slip.suspected``.
    """
    content = event.content
    wanted = present(job)
    if wanted is None or wanted[0].id != content.step:
        raise InputError(
            "gas.not_due", "data.step", "No gas is due there now.", "Go on with the present step."
        )
    _, purpose, channel = wanted
    role = role_for(purpose, channel)
    if not role:
        raise InputError(
            "gas.air", "data.role", "This point is taken in the air around.", "Open no cylinder."
        )
    if content.role != role:
        raise InputError(
            "gas.other",
            "data.role",
            f"{_name(job, role)} is due here, not {_name(job, content.role)[:40]}.",
            f"Open {_name(job, role)}.",
        )
    if has_adapter(job.ledger) and not adapter_on(job.ledger):
        raise InputError(
            "gas.no_adapter", "data.role", "The adapter is not on.", "Put the adapter on first."
        )
    c = channels(job.ledger.facts)[channel]
    if content.flow <= 0:
        raise InputError(
            "gas.flow",
            "data.flow",
            "Without flow no gas reaches the sensor.",
            f"Set {trimmed(c.flow_l_per_min)} L/min.",
        )
    off = HUNDRED * abs(content.flow - c.flow_l_per_min) / c.flow_l_per_min
    if off > FLOW_OFF and not content.kept:
        raise InputError(
            "slip.suspected",
            "data.flow",
            f"{trimmed(content.flow)} L/min; the manual wants {trimmed(c.flow_l_per_min)}. Set so?",
            "Correct it or keep it.",
            format(c.flow_l_per_min, "f"),
        )


def gas_off(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse to shut what is not open.

    Raises
    ------
    InputError
        ``gas.off``.
    """
    if gas_of(job.ledger).flowing is None:
        raise InputError("gas.off", "data.step", "No cylinder is open.", "Go on.")


def gas_reading(job: Reads, event: Event, spec: RunSpec) -> None:
    """Refuse a reading with the wrong gas, or one that is no measurement; ask about a short wait.

    Raises
    ------
    InputError
        ``gas.*``, ``purge.not_clear``, ``slip.suspected``.
    """
    content = event.content
    purpose = gases_of(job.settings, spec)[content.point]
    value = value_of(job.ledger, job.settings, purpose, spec.channel)
    if value is None or content.applied != value:
        raise InputError(
            "gas.value",
            "data.applied",
            f"The gas applied here stands for {'nothing yet' if value is None else value}.",
            "Choose the cylinder first; its value is what is applied.",
        )
    role, flow = role_for(purpose, spec.channel), gas_of(job.ledger).flowing
    if role and (flow is None or flow.content.role != role):
        raise InputError(
            "gas.not_on",
            "data.point",
            f"{_name(job, role)} is not open: what it shows now is not that gas.",
            f"Open {_name(job, role)}, wait until it is steady, then take the reading.",
        )
    if not role:
        _in_air(job, content, spec)
    if role and not content.kept and event.source == "typed" and flow is not None:
        wanted = 60 * to_float(minutes_for(job.settings, purpose))
        been = (event.when - flow.on.when).total_seconds()
        if been < wanted / 2:
            raise InputError(
                "slip.suspected",
                "data.reading",
                f"The gas is on for {been:.0f} of {wanted:.0f} s. Is it steady?",
                "Wait, or keep it.",
            )


def _in_air(job: Reads, content: ev.ReadingTaken, spec: RunSpec) -> None:
    if gas_of(job.ledger).flowing is not None or adapter_on(job.ledger):
        raise InputError(
            "gas.not_air",
            "data.point",
            "Gas is open or the adapter is on: that is not the air around.",
            "Shut the gas and take the adapter off first.",
        )
    if not isinstance(spec, GasRun) or not spec.clear:
        return
    facts = job.facts_of(spec.id)
    c = channels(job.ledger.facts)[spec.channel]
    if facts.output_unit == "mA" and content.reading < MA:
        raise InputError(
            "purge.held",
            "data.reading",
            f"{content.reading} mA is no measurement: the output is held, or it reports a fault.",
            "End its calibration mode, wait, and read it again. The bypass stays on.",
        )
    above, most = shows(facts, content) - c.rest, clear_below(job, spec.channel)
    if c.gas == "oxygen":
        above = abs(above)
    if above > most:
        raise InputError(
            "purge.not_clear",
            "data.reading",
            f"It still shows {trimmed(shows(facts, content))} {c.unit}; it is clear within "
            f"{show(most, 2)} {c.unit} of {trimmed(c.rest)}.",
            NEVER_CLEAR if c.gas == "oxygen" else NOT_YET_CLEAR,
        )


def judged(job: Reads, step: GasSet, before: Decimal) -> tuple[Outcome, str]:
    """Return whether zero or span may be set from what is shown, and why not."""
    c = channels(job.ledger.facts)[step.channel]
    settings = job.settings
    if step.end == "zero":
        found = zero(
            ZeroIn(
                value=to_float(before - (0 if step.gas == "nitrogen" else c.rest)),
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
    around = air_found(job, channel)
    if around is None:
        return None
    c = channels(job.ledger.facts)[channel]
    facts = job.facts_of(around.content.run)
    more = HUNDRED * (shows(facts, around.content) - before) / c.range
    return more if more > from_float(BACKGROUND) else None


def refused(job: Reads, step: GasSet, before: Decimal) -> tuple[str, bool]:
    """Return why zero or span may not be set, and whether that may be forced."""
    c = channels(job.ledger.facts)[step.channel]
    if step.end == "zero" and c.gas != "oxygen":
        more = background(job, step.channel, before)
        if more is not None:
            return (
                f"The air around reads {show(more, 1)} % of range more than zero gas: there is "
                "gas around, and a zero set now would hide it.",
                False,
            )
        if step.gas == "air" and not _air_tested(job, c):
            return (
                "The air around was not tested, or is not clean: it is no zero gas.",
                False,
            )
    outcome, advice = judged(job, step, before)
    if outcome == "accepted":
        return "", True
    return advice, outcome != "zero_gas_suspect"


def _air_tested(job: Reads, c: Channel) -> bool:
    """Tell whether another instrument found the air clean for this channel."""
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
        ``gas.*``, ``set.refused``, ``set.background``, ``slip.suspected``.
    """
    content = event.content
    step = job.step(content.step)
    wanted = present(job)
    if wanted is None or wanted[0].id != step.id or not isinstance(step, GasSet):
        raise InputError(
            "gas.not_due", "data.step", "Nothing is set there now.", "Go on with the present step."
        )
    role, flow = role_for(step.gas, step.channel), gas_of(job.ledger).flowing
    if role and (flow is None or flow.content.role != role):
        raise InputError(
            "gas.not_on",
            "data.before",
            f"{_name(job, role)} is not open.",
            f"Open {_name(job, role)} and wait until it is steady.",
        )
    if not role and (flow is not None or adapter_on(job.ledger)):
        raise InputError(
            "gas.not_air",
            "data.before",
            "Gas is open or the adapter is on: that is not the air around.",
            "Shut the gas and take the adapter off first.",
        )
    why, may_force = refused(job, step, content.before)
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
    if abs(content.after - target) > c.range * from_float(0.02) and not content.kept:
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
