"""What an exposure asks for now: one table of all its gases, and one thing to press."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import STAGES, Step
from calibration.engine.view.asks import Ask, Push, Sent, Value
from calibration.engine.view.blocks import Block
from calibration.families.gas.admit_set import left_refused, target_of
from calibration.families.gas.exposure import (
    AFTER,
    IN_AIR,
    LIFE,
    OTHER,
    PEAK,
    T90,
    WORD,
    as_set,
    compared,
    may_set,
    taking_part,
)
from calibration.families.gas.facts import channels
from calibration.families.gas.forcing import refusal_of
from calibration.families.gas.gas_blocks import cylinder_rows, time_of_gas
from calibration.families.gas.gases import has_adapter, role_for, value_of
from calibration.families.gas.purging import purge
from calibration.families.gas.state import GasState
from calibration.families.gas.words import Exposure
from calibration.kernel.rounding import trimmed

#: What a detector says of itself, as a column is called.
OWN_WORDS = {PEAK: "Peak", LIFE: "Its own life, %", WORD: "Its word, if it refused"}


def flushes(job: Reads, step: Step) -> tuple[Push, ...]:
    """Return the other cylinders with which what is left of a gas is flushed out first."""
    if not step.goes_on or (isinstance(step, Exposure) and step.gas == "zero"):
        return ()
    role = role_for(job.ledger, "zero", step.channel)
    chosen = job.ledger.kit.get(role)
    if chosen is None:
        return ()
    flow = format(channels(job.ledger.facts)[step.channel].flow_l_per_min, "f")
    data: dict[str, str | int] = {"step": step.id, "role": role, "flow": flow, "flush": True}
    on = Sent(kind="gas_on", data=data)
    return (Push(label=f"Flush with {chosen.asset.asset} first", events=(on,)),)


def _leaves(job: Reads, step: Exposure) -> tuple[Push, ...]:
    """Return that what was refused is left so; what the job comes to is decided afterwards."""
    if not left_refused(job, step):
        return ()
    left = Sent(kind="gas_kept", data={"step": step.id})
    return (Push(label="Leave it as refused, go on", events=(left,)),)


def exposure_task(job: Reads, step: Exposure, gas: GasState) -> Ask:
    """Return what an exposure asks for: open its cylinder, the table of its gases, shut it."""
    place = {"step": step.id}
    # Under an adapter the hose is on; the tube of a portable comes and goes with its gas.
    tubed = not has_adapter(job.ledger)
    shut = (Sent(kind="gas_off", data=place),) if gas.role else ()
    if gas.todo == "shut":
        return _task(step, gas, f"Shut {gas.cylinder}{', tube off' if tubed else ''}", shut)
    if gas.todo == "open":
        flow = {**place, "role": gas.role, "flow": gas.flow_value}
        label = f"{'Tube on: o' if tubed else 'O'}pen {gas.cylinder} at {gas.flow}"
        opened = _task(step, gas, label, (Sent(kind="gas_on", data=flow),))
        pushes = (*flushes(job, step), *_leaves(job, step))
        opened = replace(opened, others=pushes, refusal=refusal_of(job, gas, step.id))
        return replace(opened, blocks=tuple(_blocks(job, step, gas)))
    columns = table(job, step)
    apart = any(column.id.endswith(OTHER) for column in columns)
    sets = any(column.id.endswith(AFTER) for column in columns)
    as_they_are = Push(
        label=f"Take all as they are{_shut(gas)}",
        events=(Sent(kind="exposed", data={**place, "set": "none"}), *shut),
        live=True,
    )
    others: tuple[Push, ...] = (as_they_are,) if sets and not apart else ()
    if step.goes_on and gas.role:
        others += (Push(label=f"Shut {gas.cylinder}, take nothing", events=shut),)
    return replace(
        _task(step, gas, _label(step, gas, sets), shut),
        way="set",
        sends=Sent(kind="exposed", data=place),
        typed=_typed(step, gas, ", tube off" if tubed else ""),
        blocks=(*_blocks(job, step, gas), *purge(job, step)),
        values=columns,
        others=others,
        refusal=refusal_of(job, gas, step.id),
        by=("person",) if apart else (),
    )


def _task(step: Exposure, gas: GasState, label: str, events: tuple[Sent, ...]) -> Ask:
    """Return one button and what it sends."""
    return Ask(way="state", button=label, also=events, channel=step.channel, minutes=gas.minutes)


def _shut(gas: GasState) -> str:
    return f", shut {gas.cylinder}" if gas.role else ""


def _label(step: Exposure, gas: GasState, sets: bool) -> str:
    return f"Take all{', set all' if sets else ''}{_shut(gas)}"


def _typed(step: Exposure, gas: GasState, off: str) -> str:
    if gas.role:
        return f"Taken: {gas.cylinder} is shut{off}"
    return "All clear" if step.clear else "Taken"


def table(job: Reads, step: Exposure) -> tuple[Value, ...]:
    """Return what is typed, gas by gas: what it shows, another instrument, after setting."""
    found: list[Value] = []
    for n in taking_part(job.ledger, step):
        c = channels(job.ledger.facts)[n]
        value = value_of(job.ledger, job.settings, step.gas, n)
        row = f"{c.label}, {c.unit}"
        if value:
            row += f": {trimmed(value)} in it" if step.gas == "span" else f": {trimmed(value)}"

        def column(name: str, label: str, required: bool, row: str = row) -> Value:
            number = not name.endswith(WORD)
            return Value(id=name, label=label, unit="", required=required, row=row, number=number)

        may = may_set(job, step, n)
        found.append(column(c.id, "Shows", not (step.goes_on and may)))
        if compared(job.ledger, step, c) and may_set(job, step, n):
            found.append(column(c.id + OTHER, "Other", False))
        if step.alone and step.gas == "span":
            found.append(column(c.id + T90, "90 %, s", False))
        if step.goes_on and step.gas == "span":
            own = PEAK if c.principle == "infrared" else LIFE
            found.append(column(c.id + own, OWN_WORDS[own], False))
        if may:
            to = trimmed(target_of(job, as_set(job, step, n)))
            found.append(column(c.id + AFTER, f"Set to {to}", False))
            if step.goes_on:
                found.append(column(c.id + WORD, OWN_WORDS[WORD], False))
    return tuple(found)


def _blocks(job: Reads, step: Exposure, gas: GasState) -> list[Block]:
    found = []
    if gas.cylinder and gas.todo == "open":
        found.append(cylinder_rows(gas))
    if step.gas not in IN_AIR and gas.todo != "open":
        found.append(Block(kind="text", text=f"Wait until every gas is steady. {_school(job)}"))
    if step.gas == "air" and not step.clear:
        other = "Other: a proven instrument in the same air; no zero is set without."
        found.append(Block(kind="text", text=f"{other} {_school(job)}"))
    if gas.since:
        found.append(time_of_gas(gas))
    return found


def _school(job: Reads) -> str:
    """Return what is set at a visit by the rule of the site."""
    if job.settings.always_adjust:
        return "Every gas is set at each visit."
    return "Set what does not read as it should; the rest stays empty."


def exposure_heading(job: Reads, step: Exposure, gas: GasState) -> tuple[str, str]:
    """Return kicker and title of an exposure."""
    kicker = f"{dict(STAGES)[step.stage]} · {step.title.split(', ')[0]}"
    part = taking_part(job.ledger, step)
    names = ", ".join(channels(job.ledger.facts)[n].gas for n in part)
    if gas.todo == "open":
        return kicker, f"Open {gas.cylinder}: {names}"
    if gas.todo == "shut":
        return kicker, f"Shut {gas.cylinder}"
    if step.clear:
        return kicker, "Let it draw clean air; when all is clear, take it"
    if step.gas == "air":
        return kicker, "Read all of it in clean air; zero what is to be zeroed"
    if step.gas == "absorber":
        return kicker, f"Zero of {names}: through the absorber, pump on"
    what = names if len(part) == 1 else "every gas"
    return kicker, f"{gas.cylinder} is open: read {what}, then set"
