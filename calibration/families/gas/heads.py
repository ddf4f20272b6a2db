"""One or two sensors, gas by gas: opened once, read, and set there and then where it must be.

The other school reads all gases before anything is set; which one is used is the method on record.
What the detector refuses is an entry in its own word; it is put right and tried again, or forced
as the site has it. Readings at its display count; a meter at its output is read where one is here.
"""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method.method import (
    Condition,
    Field,
    Method,
    OneTap,
    ParameterSpec,
    Step,
)
from calibration.families.gas import alarms, proven
from calibration.families.gas import parts as gas
from calibration.families.gas.conditions import FIRST
from calibration.families.gas.exposure import reads
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import AROUND, SUFFIX
from calibration.families.gas.since import READY
from calibration.families.gas.two_channels import gas_by_gas
from calibration.families.gas.words import GasRun

FORCING = ParameterSpec(
    id="forcing",
    label="A refused setting is forced with",
    default="second cylinder or second person",
    kind="choice",
    choices=("second cylinder or second person", "by checks"),
    site_wide=True,
)
#: Told when a hand is free; when it is not told the paper says nothing of it.
SET_VALUE = Step(
    id="gas_value_set",
    stage="identify",
    kind="record",
    title="Span gas value set in it",
    instruction="Read the value that it sets its span to; write down what it is set to now.",
    why="It sets its span to this value, whatever is in the cylinder.",
    aside=True,
    fields=(
        Field(id="span_a", label="Found set for", kind="number", channel=0),
        Field(id="span_a_now", label="Set to", kind="number", channel=0, required=False),
    ),
)
BESIDE = Step(
    id="air_beside",
    stage="identify",
    kind="record",
    title="Another instrument beside it",
    instruction="Read a proven instrument in the same air.",
    why="It tells gas around from a zero that moved.",
    part="environment",
    aside=True,
    fields=(
        Field(
            id=f"{gas.OTHER_INSTRUMENT}a",
            label="{gas} that it shows",
            kind="number",
            channel=0,
        ),
        Field(id="beside_number", label="Which instrument", required=False),
    ),
)
_LIGHT = Condition(
    lambda job, step: any(c.principle == "infrared" for c in channels(job.ledger.facts)),
    "only where it senses by light",
    by_plan=True,
)
WINDOWS = Step(
    id="optic_level",
    stage="identify",
    kind="record",
    title="Its own signal level",
    instruction="Read the signal level in its menu, before and after the windows are cleaned.",
    why="A dirty window takes light away; it is no ageing of a sensor.",
    aside=True,
    only_if=_LIGHT,
    fields=(
        Field(id="level", label="Signal level found", kind="number", unit="%"),
        Field(id="level_left", label="Signal level left", kind="number", unit="%", required=False),
    ),
)
WHICH_FIRST = Step(
    id="which_first",
    stage="identify",
    kind="record",
    title="Which sensor first",
    instruction="Say which sensor comes under the adapter first.",
    why="Where nobody says, they come as on record.",
    part="",
    aside=True,
    fields=(Field(id=FIRST, label="First under the adapter"),),
)
BACK = OneTap(heading="Put it back, line by line", title="All done")
STATE = replace(gas.STATE, together=READY)
#: Steps of before that are said otherwise, or are part of the exposures.
_TAKEN_OVER = ("settings", "set_value", "state", "reference", "reference_b", "left_judge")


#: Steps of before that are said gas by gas, where there is one sensor.
_ONE_HEAD = ("adapter", "adapter_off", "as_left")


def _around(count: int) -> Step:
    """Return what is read in the air around, gas by gas; what nobody read is not made up."""
    return Step(
        id="air_around",
        stage="identify",
        kind="record",
        title="In the air around",
        instruction="Read it as it stands, before the adapter comes on.",
        why="Below zero it was zeroed with gas around; above zero gas there is gas around now.",
        part="environment",
        aside=True,
        fields=tuple(
            Field(
                id=f"{AROUND}{'abcd'[n]}", label="{gas}, shown", kind="number", channel=n,
                required=n == 0,
            )
            for n in range(count)
        ),
    )  # fmt: skip


def _sensors(count: int) -> Step:
    """Return since when each sensor is in; "unknown" is an answer."""
    return Step(
        id="sensor_ages",
        stage="identify",
        kind="record",
        title="Its sensors",
        instruction="Write down when each sensor was built in, where that is known.",
        why="A sensor of unknown age is never called new.",
        aside=True,
        fields=tuple(
            Field(
                id=f"sensor_{'abcd'[n]}", label="{gas}: sensor built in", hint="date, or unknown",
                channel=n, required=n == 0,
            )
            for n in range(count)
        ),
    )  # fmt: skip


def _steps(method: Method, count: int) -> tuple[Step, ...]:
    by, kept = {s.id: s for s in method.steps}, list[Step]()
    done = False
    for step in method.steps:
        if step.stage == "found" and not done:
            kept += gas_by_gas(count, {n: by[f"reference{SUFFIX[n]}"] for n in range(count)
                                       if f"reference{SUFFIX[n]}" in by})  # fmt: skip
            done = True
        if step.id == "bypass":
            kept.append(STATE)
        if step.id == "ambient":
            kept += [_sensors(count), SET_VALUE, BESIDE, WINDOWS]
            kept += [WHICH_FIRST] if count > 1 else []
            step = replace(step, aside=True)
        if step.id == alarms.SEEN:
            step = replace(step, early=True)
        if step.id in (gas.ALARM.id, gas.RESTORE.id):
            step = replace(step, together=BACK)
        if step.id == gas.UNBYPASS.id:
            step = replace(step, together=None)
        if step.id == "air_found" and count > 1:
            step = _around(count)
        taken_over = step.id in _TAKEN_OVER or step.stage in ("found", "adjust")
        taken_over = taken_over or (count == 1 and step.id in _ONE_HEAD)
        if not taken_over and not step.id.endswith("_found_b"):
            kept.append(step)
    return tuple(kept)


def _run(run: GasRun) -> GasRun:
    """Return a run: as found is read at the display; what is left, in the span gas alone."""
    if run.role == "found":
        return replace(run, on_display=True)
    return replace(run, gases=("span",), title="As left") if run.role == "left" else run


def _by_gas(method: Method, count: int) -> Method:
    """Return a method in which each gas is opened once, read, and set there and then."""
    steps = _steps(method, count)
    read = {s.run for s in steps} | {run for s in steps for run in reads(s)}
    runs = (r for r in method.runs if isinstance(r, GasRun) and r.id in read)
    return replace(
        method,
        runs=tuple(map(_run, runs)),
        steps=steps,
        parameters=(*method.parameters, FORCING),
    )


_NOW = {m.id: m for m in proven.METHODS}
GAS_HEAD = replace(
    _by_gas(_NOW["gas_zero_span"], 1),
    id="gas_head",
    version=1,
    title="Zero and span of a gas detector, gas by gas",
    called="zero and span",
    fits="Each gas is opened once: read, and set there and then.",
)
GAS_TWO_HEADS = replace(
    _by_gas(_NOW["gas_two_channel"], 2),
    id="gas_two_heads",
    version=1,
    title="Two-channel gas detector, gas by gas",
    called="both channels",
    fits="Each gas is opened once: read, and set there and then; either sensor first.",
)
METHODS = (GAS_HEAD, GAS_TWO_HEADS)
