"""What an exposure asks for now: one table of all its gases, and one thing to press."""

from __future__ import annotations

from calibration.engine.method import STAGES
from calibration.engine.reads import Reads
from calibration.engine.view.blocks import Block, Column, Push, Row, Sent, Task
from calibration.families.gas.admit_set import target_of
from calibration.families.gas.exposure import (
    AFTER,
    IN_AIR,
    OTHER,
    T90,
    as_set,
    compared,
    may_set,
    taking_part,
)
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import has_adapter, value_of
from calibration.families.gas.purging import purge
from calibration.families.gas.state import GasState
from calibration.families.gas.words import Exposure
from calibration.kernel.rounding import trimmed


def exposure_task(job: Reads, step: Exposure, gas: GasState) -> Task:
    """Return what an exposure asks for: to open its cylinder, or the table of its gases."""
    place = {"step": step.id}
    opens = gas.todo == "open"
    flow = {**place, "role": gas.role, "flow": gas.flow_value}
    opened = (Sent(kind="gas_on", data=flow),) if opens else ()
    shut = (Sent(kind="gas_off", data=place),) if gas.role and not opens else ()
    if gas.todo == "shut":
        off = "" if has_adapter(job.ledger) else ", tube off"
        return _send(f"Shut {gas.cylinder}{off}", step, gas, shut)
    # Under an adapter the hose is on; the tube of a portable comes and goes with its gas.
    tube = "O" if has_adapter(job.ledger) else "Tube on: o"
    columns = () if opens else table(job, step)
    apart = any(column.id.endswith(OTHER) for column in columns)
    sets = any(column.id.endswith(AFTER) for column in columns)
    return Task(
        way="send" if opens else "set",
        label=f"{tube}pen {gas.cylinder} at {gas.flow}" if opens else _label(step, gas, sets),
        typed=_typed(step, gas, "" if has_adapter(job.ledger) else ", tube off"),
        in_round="",
        blocks=(*_blocks(job, step, gas), *purge(job, step)),
        kind="" if opens else "exposed",
        run="",
        point=-1,
        columns=columns,
        events=opened or shut,
        others=()
        if opens or apart or not sets
        else (
            Push(
                label=f"Take all as they are{_shut(gas)}",
                events=(Sent(kind="exposed", data={**place, "set": "none"}), *shut),
                live=True,
            ),
        ),
        refusal=None,
        early=(),
        channel=step.channel,
        minutes=gas.minutes,
        end="",
        target="",
        by_hand=apart,
    )


def _send(label: str, step: Exposure, gas: GasState, events: tuple[Sent, ...]) -> Task:
    return Task(
        way="send",
        label=label,
        typed=label,
        in_round="",
        blocks=(),
        kind="",
        run="",
        point=-1,
        columns=(),
        events=events,
        others=(),
        refusal=None,
        early=(),
        channel=step.channel,
        minutes=gas.minutes,
        end="",
        target="",
    )


def _shut(gas: GasState) -> str:
    return f", shut {gas.cylinder}" if gas.role else ""


def _label(step: Exposure, gas: GasState, sets: bool) -> str:
    return f"Take all{', set all' if sets else ''}{_shut(gas)}"


def _typed(step: Exposure, gas: GasState, off: str) -> str:
    if gas.role:
        return f"Taken: {gas.cylinder} is shut{off}"
    return "All clear" if step.clear else "Taken"


def table(job: Reads, step: Exposure) -> tuple[Column, ...]:
    """Return what is typed, gas by gas: what it shows, another instrument, after setting."""
    found: list[Column] = []
    for n in taking_part(job.ledger, step):
        c = channels(job.ledger.facts)[n]
        value = value_of(job.ledger, job.settings, step.gas, n)
        row = f"{c.label}, {c.unit}"
        if value:
            row += f": {trimmed(value)} in it" if step.gas == "span" else f": {trimmed(value)}"

        def column(name: str, label: str, required: bool, row: str = row) -> Column:
            return Column(id=name, label=label, unit="", required=required, row=row)

        found.append(column(c.id, "Shows", True))
        if compared(step, c) and may_set(job, step, n):
            found.append(column(c.id + OTHER, "Other", False))
        if step.alone and step.gas == "span":
            found.append(column(c.id + T90, "90 %, s", False))
        if may_set(job, step, n):
            to = trimmed(target_of(job, as_set(job, step, n)))
            found.append(column(c.id + AFTER, f"Set to {to}", False))
    return tuple(found)


def _blocks(job: Reads, step: Exposure, gas: GasState) -> list[Block]:
    found = []
    if gas.cylinder and gas.todo == "open":
        rows = (
            Row(label="Cylinder", value=f"{gas.cylinder}, {gas.contents}"),
            Row(label="Flow", value=f"{gas.flow}, about {gas.minutes} min", strong=True),
            Row(label="Gas left", value=f"{gas.left}; this job still takes up to {gas.needed}"),
        )
        found.append(Block(kind="rows", rows=rows))
    if step.gas not in IN_AIR and gas.todo != "open":
        found.append(Block(kind="text", text=f"Wait until every gas is steady. {_school(job)}"))
    if step.gas == "air" and not step.clear:
        other = "Other: a proven instrument in the same air; no zero is set without."
        found.append(Block(kind="text", text=f"{other} {_school(job)}"))
    if gas.since:
        found.append(
            Block(
                kind="timer",
                title=f"until {gas.minutes} min of gas are over",
                text="long enough: read it now",
                ends_at=gas.ready_at,
            )
        )
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
