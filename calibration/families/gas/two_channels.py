"""Two sensors with a gas each: under the adapter one after the other, in the fewest openings.

Zero and span gas are opened once for a sensor: it is read, and set where it must be. A bump with
its span gas proves it, at the display and at the output, before the adapter moves on.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from calibration.engine.method.conditions import REPLACING
from calibration.engine.method.method import KitRole, Step
from calibration.families.gas import parts as gas
from calibration.families.gas import since
from calibration.families.gas.conditions import ITS_TURN, both
from calibration.families.gas.exposure import (
    CHANNEL_SET,
    OUTSIDE_AFTERWARDS,
    OUTSIDE_UNTOUCHED,
    TO_BE_PROVEN,
)
from calibration.families.gas.gases import SUFFIX
from calibration.families.gas.words import Exposure, GasRun
from calibration.gas.cylinder import Purpose

NAMES = ("first", "second")
ZERO_GAS_B = replace(gas.ZERO_GAS, id="zero_gas_b", label=f"Zero gas{gas.ORDINAL[1]}", channel=1)
VOLTMETER = KitRole(
    id="voltmeter",
    label="Voltmeter for the reference voltage",
    quantity="voltage",
    instead="Read it on the detector's own display",
)


def _exposure(purpose: Purpose, channel: int, goes_on: bool = False) -> Exposure:
    return Exposure(
        id=f"on_{purpose}{SUFFIX[channel]}",
        stage="found",
        kind="exposure",
        title=f"{purpose.capitalize()} gas on{gas.ORDINAL[channel]}",
        instruction="Open it once: read it when it is steady, and set it where it must be.",
        why="Read before it is set: without it nobody can tell whether it would have warned.",
        caution=gas.CARE,
        gas=purpose,
        channel=channel,
        alone=True,
        proves=False,
        goes_on=goes_on,
    )


def _of_channel(n: int, goes_on: bool = False) -> tuple[Step, ...]:
    """Return what is done under the adapter of one sensor; ``goes_on``: tried anew if refused."""
    on = replace(
        gas.ADAPTER,
        id=f"adapter{SUFFIX[n]}",
        stage="found",
        title=f"Adapter on{gas.ORDINAL[n]}",
        instruction=f"Put the adapter on the {NAMES[n]} sensor, with the flow, and the humidifier "
        "where it wants one, of that sensor.",
        on_label=f"Adapter on the {NAMES[n]} sensor",
        channel=n,
        together=None,
        anew="round",
    )
    off = replace(
        gas.ADAPTER_OFF,
        id=f"adapter_off{SUFFIX[n]}",
        stage="found",
        title=f"Adapter off{gas.ORDINAL[n]}",
        ends=on.id,
        channel=n,
        together=None,
        goes_on=goes_on,
    )
    bump = replace(
        gas.left(n),
        stage="found",
        title=f"Bump, as left{gas.ORDINAL[n]}",
        instruction="Open the span gas once more, and read display and output.",
        why="It proves what was set, and the output that the control room sees.",
        only_if=TO_BE_PROVEN if goes_on else CHANNEL_SET,
        goes_on=goes_on,
    )
    return (on, _exposure("zero", n, goes_on), _exposure("span", n, goes_on), bump, off)


def gas_by_gas(count: int, first: Mapping[int, Step]) -> tuple[Step, ...]:
    """Return what is read and set of so many sensors, one after the other, and its judgement.

    ``first``: what comes before the adapter of a sensor. What a detector refuses is put right and
    tried again where it was refused.
    """
    steps: list[Step] = []
    for n in range(count):
        steps += [first[n]] if n in first else []
        steps += _of_channel(n, goes_on=True)
    if count > 1:
        steps = [
            replace(s, only_if=both(s.only_if, ITS_TURN) if s.only_if else ITS_TURN) for s in steps
        ]
    # Of one head the adapter stays on until it is decided.
    off = [] if count > 1 else [steps.pop()]
    return (
        replace(gas.REPLACE, stage="found", only_if=REPLACING),
        *steps,
        replace(gas.JUDGE, only_if=OUTSIDE_UNTOUCHED),
        replace(gas.LEFT_JUDGE, only_if=OUTSIDE_AFTERWARDS),
        *off,
    )


def _reference(step: Step) -> Step:
    """Return the check of a reference voltage, with the value found and the one that was set."""
    found = replace(
        step.fields[0],
        label="Reference voltage found, {gas}",
        channel=step.channel,
        question="For the gas of today it comes to {expected} V. Set it to that and write down "
        "what you set; the last span was set for another gas, and is in doubt.",
    )
    name = found.id.replace("reference_", "reference_set_")
    was_set = replace(found, id=name, label="Set to, {gas}, where it was changed", required=False)
    return replace(
        step,
        instruction="Measure the reference voltage of the span gas before anything is changed.",
        fields=(found, was_set),
        works_out=replace(step.works_out, computed=((found.id, "voltage_v"), (name, "voltage_v"))),
    )


def _steps() -> tuple[Step, ...]:
    before = since.GAS_TWO_CHANNEL.steps
    kept: list[Step] = []
    for step in before:
        if step.id == "as_found":
            kept += [replace(gas.REPLACE, stage="found", only_if=REPLACING)]
            kept += [*_of_channel(0), *_of_channel(1)]
            kept += [
                replace(gas.JUDGE, only_if=OUTSIDE_UNTOUCHED),
                replace(gas.LEFT_JUDGE, only_if=OUTSIDE_AFTERWARDS),
            ]
        if step.kind == "kit":
            first, *others, meter = step.roles
            step = replace(step, roles=(first, ZERO_GAS_B, *others, meter, VOLTMETER))
        if step.id.startswith("reference"):
            step = _reference(step)
        if step.id not in _TAKEN_OVER:
            kept.append(step)
    return tuple(kept)


_TAKEN_OVER = (
    "adapter",
    "adapter_off",
    "judge",
    "replace",
    "left_judge",
    *(name + suffix for name in ("as_found", "as_left", "zero", "span") for suffix in SUFFIX[:2]),
)


def _run(run: GasRun) -> GasRun:
    """Return a run: as found is read at the display; the bump at the end has one gas."""
    if run.role == "found":
        return replace(run, on_display=True)
    return replace(run, gases=("span",), title="Bump, as left") if run.role == "left" else run


GAS_TWO_CHANNEL = replace(
    since.GAS_TWO_CHANNEL,
    version=since.GAS_TWO_CHANNEL.version + 1,
    runs=tuple(_run(run) for run in since.GAS_TWO_CHANNEL.runs if isinstance(run, GasRun)),
    steps=_steps(),
)
