"""What a step with gas asks for now, as any family's step is drawn: lines, buttons, values."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import STAGES, Step
from calibration.engine.method.run_kind import stands_for
from calibration.engine.view.asks import Ask, Push, Sent
from calibration.engine.view.blocks import Block
from calibration.engine.view.columns import Column, columns_of
from calibration.engine.view.lines import OnState
from calibration.families.gas.admit_set import may_keep
from calibration.families.gas.exposure import exposes
from calibration.families.gas.exposure_table import every_gas
from calibration.families.gas.exposure_task import exposure_heading, exposure_task, flushes
from calibration.families.gas.facts import channels
from calibration.families.gas.forcing import refusal_of
from calibration.families.gas.gas_blocks import cylinder_rows, time_of_gas
from calibration.families.gas.gases import gas_run, role_for
from calibration.families.gas.kinds import GAS
from calibration.families.gas.ledger import gas_of
from calibration.families.gas.outcomes import EARLY
from calibration.families.gas.purging import purge
from calibration.families.gas.state import GasState
from calibration.families.gas.view import gas_lines, gas_state
from calibration.families.gas.words import Exposure, GasSet
from calibration.families.shared.display import columns, read
from calibration.kernel.rounding import trimmed

SET_COLUMNS = {"before": "Before, if read", "after": "After it is set"}


def task(job: Reads) -> Ask | None:
    """Return what the present step asks for; none where it wants no gas and no air."""
    gas = gas_state(job)
    step = job.current
    if step is not None and flushing(job):
        return _shut_after_flush(job, step)
    if step is not None and step.kind == "take_off" and step.goes_on:
        return _off_or_flush(job, step)
    if gas is None or step is None:
        return None
    if isinstance(step, Exposure):
        return exposure_task(job, step, gas)
    place = {"step": step.id}
    shut = Sent(kind="gas_off", data=place)
    common = _common(job, step, gas)
    if gas.todo == "open":
        flow = {**place, "role": gas.role, "flow": gas.flow_value}
        return replace(
            common,
            way="state",
            button=f"Open {gas.cylinder} at {gas.flow}",
            also=(Sent(kind="gas_on", data=flow),),
            others=flushes(job, step),
            refusal=refusal_of(job, gas, step.id),
        )
    if gas.todo == "shut":
        return replace(
            common, way="state", button=f"Shut {gas.cylinder or 'the gas'}", also=(shut,)
        )
    return _set(job, step, gas, common, shut) if gas.todo == "set" else _read(job, step, gas, shut)


def flushing(job: Reads) -> str:
    """Return the cylinder that flushes what is left of another gas; empty where none does."""
    flow = gas_of(job.ledger).flowing
    if flow is None or not flow.content.flush:
        return ""
    return flow.asset.asset if flow.asset is not None else "the gas"


def _shut_after_flush(job: Reads, step: Step) -> Ask:
    """Return that what flushes is shut again."""
    shut = Sent(kind="gas_off", data={"step": step.id})
    words = f"Shut {flushing(job)}: flushed"
    return Ask(way="state", button=words, also=(shut,), channel=step.channel)


def _off_or_flush(job: Reads, step: Step) -> Ask:
    """Return that what brings gas comes off, or that it is flushed first."""
    return Ask(
        way="state",
        button=step.button,
        sends=Sent(kind="taken_off", data={"step": step.id}),
        others=flushes(job, step),
        channel=step.channel,
    )


def _common(job: Reads, step: Step, gas: GasState) -> Ask:
    """Return what every ask with gas says: the gas, its channel, how long it takes to tell."""
    return Ask(
        way="read",
        blocks=(*_blocks(gas), *purge(job, step)),
        channel=channel_of(job, gas),
        minutes=gas.minutes,
        end=gas.end,
        target=gas.target,
    )


def _set(job: Reads, step: Step, gas: GasState, common: Ask, shut: Sent) -> Ask:
    """Return how zero or span is set; the gas is shut with it."""
    also = f" and shut {gas.cylinder}" if gas.role else ""
    others: tuple[Push, ...] = ()
    if gas.role:
        others = (Push(label=f"Shut {gas.cylinder} without setting", events=(shut,)),)
    if isinstance(step, GasSet) and may_keep(job, step):
        keep = Sent(kind="gas_kept", data={"step": step.id})
        after = (keep, shut) if gas.role else (keep,)
        others += (Push(label=f"The {gas.end} is good: leave it", events=after),)
    names = {name: Column(label, gas.unit) for name, label in SET_COLUMNS.items()}
    return replace(
        common,
        way="set",
        button=f"Set {gas.end} to {gas.target} {gas.unit}{also}",
        typed=f"{gas.end.capitalize()} is set" + (f": shut {gas.cylinder}" if gas.role else ""),
        sends=Sent(kind="gas_set", data={"step": step.id}),
        values=columns_of(names, job.ledger.facts, names),
        also=(shut,) if gas.role else (),
        others=others,
        refusal=refusal_of(job, gas, step.id),
    )


def _read(job: Reads, step: Step, gas: GasState, shut: Sent) -> Ask:
    """Return how the gas that is on is read, or the air around."""
    run = gas_run(job, step)
    assert run is not None
    figures, common = job.figures(run.id), _common(job, step, gas)
    stands = stands_for(GAS, figures.plan[figures.current])
    asked = read(run, figures, columns(job, GAS, run, figures), stands, EARLY)
    return replace(
        common,
        button=f"Take it and shut {gas.cylinder}" if gas.shut_after else "Take reading",
        in_round=_last_look(job, step),
        also=(shut,) if gas.shut_after else (),
        sends=asked.sends,
        values=asked.values,
        at_once=asked.at_once,
        early=asked.early,
    )


def channel_of(job: Reads, gas: GasState) -> int:
    """Return the place of the channel that the gas is for."""
    return next(n for n, c in enumerate(channels(job.ledger.facts)) if c.id == gas.channel)


def _last_look(job: Reads, step: Step) -> str:
    """Return what clean air is followed by in a round; empty before the last of it."""
    run = gas_run(job, step)
    if run is None or not run.clear or run.channel < len(channels(job.ledger.facts)) - 1:
        return ""
    return "Clean air, alarm reset, bypass off"


def _blocks(gas: GasState) -> list[Block]:
    found = []
    if gas.cylinder:
        found.append(cylinder_rows(gas))
    if gas.advice:
        found.append(Block(kind="text", text=gas.advice))
    if gas.since:
        found.append(time_of_gas(gas))
    return found


def heading(job: Reads, step: Step) -> tuple[str, str] | None:
    """Return kicker and title where gas is applied, or air is read; none elsewhere."""
    if job.current is step and (cylinder := flushing(job)):
        return dict(STAGES)[step.stage], f"Flush with {cylinder} until it is clear, then shut it"
    gas = gas_state(job)
    if gas is not None and isinstance(step, Exposure):
        return exposure_heading(job, step, gas)
    return _with_gas(job, step, gas) if gas is not None else None


def _with_gas(job: Reads, step: Step, gas: GasState) -> tuple[str, str]:
    """Return kicker and title where gas is applied, or air is read."""
    name = step.title.split(", ")[0]
    kicker = dict(STAGES)[step.stage]
    if name != kicker:
        kicker += f" · {name}"
    if len(channels(job.ledger.facts)) > 1:
        kicker += f" · {gas.channel_label}"
    value = f"{gas.value} {gas.unit}"
    if gas.todo == "open":
        name = "zero gas" if gas.purpose == "zero" else gas.purpose
        name = f"{value} of {gas.channel_label.lower()}" if gas.purpose == "span" else name
        return kicker, f"Open {gas.cylinder}: {name}"
    if gas.todo == "shut":
        return kicker, f"Shut {gas.cylinder or 'the gas'}"
    if gas.todo == "set":
        return kicker, f"Set {gas.end}: {gas.target} {gas.unit}, when it is steady"
    if gas.purpose == "air":
        run = gas_run(job, step)
        clear = run is not None and run.clear
        return kicker, "Wait until it is clear, then read clean air" if clear else (
            "Read it in the air around"
        )
    return kicker, f"Wait until it is steady: {gas.cylinder} is open"


def states(job: Reads, step: Step) -> Push | None:
    """Return the opening of a cylinder as a line that may be stated with others."""
    spec = gas_run(job, step)
    if spec is None or len(spec.gases) != 1 or spec.gases[0] == "air":
        return None
    role = role_for(job.ledger, spec.gases[0], spec.channel)
    chosen = job.ledger.kit.get(role)
    flow = channels(job.ledger.facts)[spec.channel].flow_l_per_min
    if chosen is None or gas_of(job.ledger).flowing is not None or job.ledger.readings[spec.id]:
        return None
    data = {"step": step.id, "role": role, "flow": format(flow, "f")}
    return Push(
        label=f"{chosen.asset.asset} opened at {trimmed(flow)} L/min",
        events=(Sent(kind="gas_on", data=data),),
    )


def on(job: Reads) -> tuple[OnState, ...]:
    """Return the gas that is open."""
    flow = gas_of(job.ledger).flowing
    if flow is None:
        return ()
    return (
        OnState(
            step=flow.content.step,
            label=f"Gas {flow.asset.asset if flow.asset else ''} open".replace("  ", " "),
            since=flow.on.at,
            by=flow.on.by,
            limit_minutes="",
            ends_with="Shut the gas",
            kind="gas",
        ),
    )


def to_close(job: Reads) -> tuple[str, ...]:
    """Return that gas is open, where it is."""
    return ("Gas is still open.",) if gas_of(job.ledger).flowing is not None else ()


def blocks(job: Reads) -> tuple[Block, ...]:
    """Return the table of what was read with each gas; none before the first."""
    if exposes(job.ledger):
        return every_gas(job)
    lines = gas_lines(job)
    if not lines:
        return ()
    several = len({line.channel for line in lines}) > 1
    return (
        Block(
            kind="table",
            title="What it answered",
            columns=("Run", *(("Channel",) if several else ()), "Gas", "Reading", "Answer"),
            cells=tuple(
                (
                    line.run,
                    *((line.channel,) if several else ()),
                    line.gas,
                    line.reading,
                    ", ".join(
                        filter(None, (line.label, line.response, line.last, line.of_new, line.t90))
                    ),
                )
                for line in lines
            ),
            marks=tuple("within" if line.outcome == "accepted" else "outside" for line in lines),
        ),
    )
