"""Smart transmitter: three readings at each point, trims hop by hop, writes that are read back."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method.conditions import trimming
from calibration.engine.method.method import Condition, Field, Item, Method, RunSpec, Step, WorksOut
from calibration.families.shared import limits, parts
from calibration.families.shared.loop.progress import trims_output
from calibration.families.shared.loop.trims import Loop
from calibration.families.shared.loop_check import LOOP_CHECK
from calibration.families.shared.pressure import CONNECT, DISCONNECT, PRESSURE
from calibration.families.shared.runs import RUNS

MOVES = "The loop current moves with every write. Only with the loop in manual."
LOOP = Step(
    id="loop",
    stage="identify",
    kind="record",
    title="Check supply and resistor",
    instruction="Measure the supply, and the resistance of wiring, barrier and card.",
    why="Digital communication needs 230 to 600 ohm in the loop, and at full current the supply "
    "must still reach the transmitter.",
    fields=(
        Field(id="supply_v", label="Supply", kind="number", unit="V"),
        Field(id="loop_ohm", label="Wiring, barrier and card", kind="number", unit="Ω"),
        Field(id="resistor_ohm", label="Resistor put in", kind="number", unit="Ω"),
    ),
    works_out=WorksOut(
        operation="loop.supply",
        shows=("transmitter_v", "transmitter_at_alarm_v", "resistor_v", "total_ohm", "comms_ok"),
        must_hold=(
            (
                "alarm_ok",
                "At the high alarm current only {transmitter_at_alarm_v} V would reach the "
                "transmitter: its output would be held back. Go on?",
            ),
            (
                "comms_ok",
                "With {total_ohm} ohm in the loop, digital communication does not work reliably. "
                "Go on?",
            ),
        ),
    ),
)
LOOP_RUN = RunSpec(
    id="loop_check",
    title="Loop check",
    kind="fixed_current",
    start="Fix the current at {value}",
    up="Fix the current at {value}",
    down="Fix the current at {value}",
    percents=("0", "50", "100"),
    pattern="up",
)

SMART_TRANSMITTER = Method(
    id="smart_transmitter",
    version=1,
    title="Smart transmitter, digital value, output and receiver",
    called="sensor, output, receiver",
    fits="A device with a digital value that can be read, trimmed and written.",
    runs=(*RUNS, LOOP_RUN),
    steps=(
        parts.kit(PRESSURE, parts.METER, names="the pressure reference and the meter"),
        parts.OPERATOR,
        parts.BYPASS,
        parts.ISOLATE,
        parts.IDENTITY,
        parts.settings(
            parts.TAG,
            parts.LOWER,
            parts.UPPER,
            parts.SHAPE,
            parts.DAMPING,
            what="tag, range, damping and output characteristic",
        ),
        parts.STATE,
        LOOP,
        CONNECT,
        parts.AMBIENT,
        parts.WARM_UP,
        parts.DAMPING_OFF,
        parts.as_found(),
        *LOOP_CHECK,
        parts.JUDGE,
        parts.WRITE_BACK,
        *parts.adjust(MOVES),
        DISCONNECT,
        parts.DAMPING_BACK,
        parts.restore(
            parts.VALVES,
            parts.COVERS,
            Item(id="settings", label="Trims written to the device; settings backed up"),
        ),
        parts.UNBYPASS,
        parts.SIGN,
    ),
    parameters=limits.parameters(
        limits.yes_or_no("loop_check", "Loop check with fixed currents", "yes"),
    ),
    sources=parts.SOURCES,
)

ANSWERS = Step(
    id="device_answers",
    stage="identify",
    kind="checklist",
    title="Does the device answer?",
    instruction="Call it from the communicator, at the terminals.",
    why="No answer: 230 to 600 ohm in the loop? Right way round? Supply at full current? Another "
    "communicator or system on the loop? Another address? Barrier that lets no signal through?",
    items=(Item(id="answers", label="The device answers, and shows its tag"),),
)
_LATER = ("settings",)


def _as_read() -> tuple[Step, ...]:
    """Return the steps with resistor and connection before what is read through them."""
    found = [s for s in SMART_TRANSMITTER.steps if s.id not in _LATER]
    read = [s for s in SMART_TRANSMITTER.steps if s.id in _LATER]
    at = 1 + next(i for i, s in enumerate(found) if s is CONNECT)
    return (*found[:at], ANSWERS, *read, *found[at:])


#: As it was: for jobs that began with it.
SMART_TRANSMITTER_1 = SMART_TRANSMITTER
SMART_TRANSMITTER_2 = replace(SMART_TRANSMITTER_1, version=2, steps=_as_read())
UNIT = Field(
    id="unit",
    label="Unit of the range in the device",
    usual="unit",
    required=False,
    hint="as it shows it; inH2O is at 4 °C, inH2O_20 at 20 °C",
)


def _with_unit(step: Step) -> Step:
    """Return the step that reads the range with the unit in which the device says it."""
    return replace(step, fields=(UNIT, *step.fields)) if step.id in _LATER else step


TRIMS_OUTPUT = Condition(
    lambda job, step: trimming(job) and trims_output(job), "only if the output is trimmed"
)
FIX_ON = replace(
    LOOP_CHECK[0],
    id="trim_fix_on",
    stage="adjust",
    why="The output is trimmed at currents that the device gives itself; no pressure is needed.",
    only_if=TRIMS_OUTPUT,
    anew="round",
)
FIX_OFF = replace(
    LOOP_CHECK[2],
    id="trim_fix_off",
    stage="adjust",
    ends=FIX_ON.id,
    only_if=TRIMS_OUTPUT,
)


def _at_fixed_currents() -> tuple[Step, ...]:
    """Return the steps with the fixed-current mode around the trims, and ended after them."""
    found: list[Step] = []
    for step in SMART_TRANSMITTER_2.steps:
        adjusts = step.kind == "adjust"
        found += [FIX_ON, step, FIX_OFF] if adjusts else [_with_unit(step)]
    return tuple(found)


#: Read before anything is trimmed, it says nothing of what is left once the run was taken again.
LOOP_RUN_BEFORE = replace(LOOP_RUN, before=True)
SMART_TRANSMITTER_3 = replace(
    SMART_TRANSMITTER_2,
    version=3,
    own=Loop(fixes_output=True),
    runs=(*RUNS, LOOP_RUN_BEFORE),
    steps=_at_fixed_currents(),
)
SMART_TRANSMITTER = parts.plainer(SMART_TRANSMITTER_3)
