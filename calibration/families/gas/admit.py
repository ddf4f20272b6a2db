"""Whether gas may go on, a reading with gas may count, and zero or span may be set."""

from __future__ import annotations

from decimal import Decimal

from calibration.detector.naming import MEASURES_FROM_MA
from calibration.engine.job import events as ev
from calibration.engine.job.events import Event
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import RunSpec
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import (
    adapter_on,
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
from calibration.families.gas.words import GasRun
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, to_float
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
        f"{cylinder_of(job, flow.content.role)} is still open.",
        "Shut the cylinder first.",
    )


_WITH_GAS = (
    "gas_off",
    "gas_set",
    "gas_kept",
    "exposed",
    "reading_taken",
    "agreed",
    "refused",
    "noted",
    "retracted",
    "written",
)


def cylinder_of(job: Reads, role: str) -> str:
    """Return the cylinder that was chosen for a role; the role while none was."""
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
    off = job.current
    if content.flush and off is not None and off.kind == "take_off" and off.goes_on:
        wanted = (off, "zero", off.channel)
    if wanted is None or wanted[0].id != content.step:
        raise InputError(
            "gas.not_due", "data.step", "No gas is due there now.", "Go on with the present step."
        )
    step, purpose, channel = wanted
    if content.flush and not step.goes_on:
        raise InputError(
            "gas.not_due",
            "data.flush",
            "Nothing is flushed there now.",
            "Open the gas that is due.",
        )
    role = role_for(job.ledger, "zero" if content.flush else purpose, channel)
    if not role:
        raise InputError(
            "gas.air", "data.role", "This point is taken in the air around.", "Open no cylinder."
        )
    if content.role != role:
        raise InputError(
            "gas.other",
            "data.role",
            f"{cylinder_of(job, role)} is due here, not {cylinder_of(job, content.role)[:40]}.",
            f"Open {cylinder_of(job, role)}.",
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
    role, flow = role_for(job.ledger, purpose, spec.channel), gas_of(job.ledger).flowing
    if role and (flow is None or flow.content.role != role):
        raise InputError(
            "gas.not_on",
            "data.point",
            f"{cylinder_of(job, role)} is not open: what it shows now is not that gas.",
            f"Open {cylinder_of(job, role)}, wait until it is steady, then take the reading.",
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
    if facts.output_unit == "mA" and content.reading < MA:
        raise InputError(
            "purge.held",
            "data.reading",
            f"{content.reading} mA is no measurement: the output is held, or it reports a fault.",
            "End its calibration mode, wait, and read it again. The bypass stays on.",
        )
    refuse_unclear(job, spec.channel, shows(facts, content), "data.reading")


def refuse_unclear(job: Reads, channel: int, shown: Decimal, field: str) -> None:
    """Refuse what is not clear of gas yet.

    Raises
    ------
    InputError
        ``purge.not_clear``.
    """
    c = channels(job.ledger.facts)[channel]
    above, most = shown - c.rest, clear_below(job, channel)
    if c.gas == "oxygen":
        above = abs(above)
    if above > most:
        raise InputError(
            "purge.not_clear",
            field,
            f"It still shows {trimmed(shown)} {c.unit}; it is clear within "
            f"{show(most, 2)} {c.unit} of {trimmed(c.rest)}.",
            NEVER_CLEAR if c.gas == "oxygen" else NOT_YET_CLEAR,
        )
