"""The methods for gas detectors in the order in which things can be read and done.

What is read comes before bypass, so that it is short; a plate is read, not stated with the rest;
no tap says that gas is on before somebody opened it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from calibration.engine.method.method import (
    Condition,
    Field,
    Item,
    Method,
    OneTap,
    ParameterSpec,
    Step,
)
from calibration.families.gas import fixed, portable
from calibration.families.gas import parts as gas
from calibration.families.gas.bump import GAS_BUMP as GAS_BUMP_2
from calibration.families.gas.words import GasRun
from calibration.families.shared import limits

READY = OneTap(heading="Make it ready, line by line", title="All done")
#: Read while it still guards.
BEFORE_BYPASS = ("identity", "settings", "state", "warm_up")
_BYPASS, _ADAPTER = gas.BYPASS.id, gas.ADAPTER.id
OXYGEN_LIMIT = ParameterSpec(
    id="oxygen_limit", label="Oxygen within", default="0.5", unit="% vol", least="0.1", most="5"
)
BUMP_LIMIT = ParameterSpec(
    id="bump_limit_percent",
    label="Bump check accepts, of the gas",
    default="20",
    unit="%",
    least="5",
    most="50",
)


def _one(step: Step) -> Step:
    """Return a step as it is stated: made ready by one tap, all else by itself."""
    if step.together != gas.READY:
        return step
    joined = step.kind in ("put_on", "checklist")
    return replace(step, together=READY if joined else None)


def in_order(method: Method, *more: ParameterSpec, version: int) -> Method:
    """Return a method for a fixed detector in its new order."""
    early: list[Step] = []
    late: list[Step] = []
    for step in method.steps:
        first = step.id.split("_b")[0] in BEFORE_BYPASS and step.stage in ("safe", "identify")
        (early if first else late).append(_one(step))
    at = next(i for i, step in enumerate(late) if step.id == _BYPASS)
    steps = [*late[:at], *(replace(s, stage="safe") for s in early), *late[at:]]
    flush = next((s for s in steps if s.id == fixed.FLUSH.id), None)
    if flush is not None:
        steps.remove(flush)
        steps.insert(1 + next(i for i, s in enumerate(steps) if s.id == _ADAPTER), flush)
    return replace(
        method, version=version, steps=tuple(steps), parameters=(*method.parameters, *more)
    )


GAS_ZERO_SPAN = in_order(fixed.GAS_ZERO_SPAN, version=2)
GAS_INFRARED = in_order(fixed.GAS_INFRARED, version=2)
GAS_OXYGEN = in_order(fixed.GAS_OXYGEN, OXYGEN_LIMIT, version=2)
GAS_TWO_CHANNEL = in_order(fixed.GAS_TWO_CHANNEL, OXYGEN_LIMIT, version=2)
GAS_BUMP = replace(
    in_order(GAS_BUMP_2, BUMP_LIMIT, version=3),
    runs=tuple(
        replace(run, limit=BUMP_LIMIT.id)
        if isinstance(run, GasRun) and run.role == "found"
        else run
        for run in GAS_BUMP_2.runs
    ),
)

ALARMS = Item(id="alarms", label="Inlet blocked with a finger: it alarms")
BLOCKED = Step(
    id="flow_alarm",
    stage="identify",
    kind="checklist",
    title="Block the inlet",
    instruction="Block the inlet with a finger and count until it alarms.",
    why="A pump that fails in silence draws no gas to the sensors. No alarm: lower its fail point "
    "as the manual says and block it again.",
    items=(ALARMS,),
)
IT_ALARMS = Condition(
    lambda job, step: (BLOCKED.id, ALARMS.id) in job.ledger.confirmed, "only if it alarms"
)
LOWERED = Condition(
    lambda job, step: (BLOCKED.id, ALARMS.id) in job.ledger.failed,
    "only if it did not alarm at first",
)
SECONDS = replace(
    portable.FLOW_ALARM,
    id="flow_alarm_seconds",
    title="How fast it alarms",
    instruction="Write down the seconds that you counted.",
    only_if=IT_ALARMS,
)
FAIL_POINT = Step(
    id="fail_point",
    stage="identify",
    kind="record",
    title="Fail point of the pump",
    instruction="Write down the fail point that is set now.",
    why="The next one must know that it was lowered, and how far.",
    fields=(Field(id="fail_point", label="Fail point set now"),),
    only_if=LOWERED,
)
ENDURES = limits.yes_or_no("endurance", "Battery endurance on receiving", "yes")
_ENDURANCE_WANTED = Condition(
    lambda job, step: job.settings.says_yes("endurance"), "by choice of the site", by_plan=True
)
_ENDURANCE_TESTED = Condition(
    lambda job, step: (
        job.settings.says_yes("endurance") and not job.ledger.not_here(portable.ENDURANCE.id)
    ),
    "only if it was tested",
)
ENDURANCE = replace(
    portable.ENDURANCE,
    instruction="Charge it full, let it log until it stops, and read how many samples it holds; "
    "in its own time, the job waits.",
    works_out=replace(portable.ENDURANCE.works_out, must_hold=()),
    only_if=_ENDURANCE_WANTED,
    if_not="Not tested here",
)
OUTLASTS = Step(
    id="outlasts",
    stage="identify",
    kind="checklist",
    title="Does it outlast a shift?",
    instruction="Compare the hours with a shift, and charge it again.",
    why="It must outlast a shift with the pump on; empty, it guards nobody.",
    items=(
        Item(id="outlasts", label="It outlasts a shift"),
        Item(id="charged", label="Charged again"),
    ),
    only_if=_ENDURANCE_TESTED,
)


def _received(step: Step) -> tuple[Step, ...]:
    """Return what stands in the place of a step of before."""
    return {
        portable.FLOW_ALARM.id: (BLOCKED, FAIL_POINT, SECONDS),
        portable.MEMORY.id: (ENDURANCE, OUTLASTS, portable.MEMORY),
        portable.ENDURANCE.id: (),
    }.get(step.id, (step,))


def looked_over(method: Method, defaults: Mapping[str, str], *more: ParameterSpec) -> Method:
    """Return a method for a portable: no alarm can be said, and every gas is set each visit."""
    return replace(
        method,
        version=2,
        steps=tuple(new for step in method.steps for new in _received(step)),
        parameters=(
            *(replace(p, default=defaults.get(p.id, p.default)) for p in method.parameters),
            OXYGEN_LIMIT,
            *more,
        ),
    )


GAS_PORTABLE = looked_over(portable.GAS_PORTABLE, {"school": "always"})
GAS_RECEIVING = looked_over(portable.GAS_RECEIVING, {}, ENDURES)
METHODS = (
    GAS_BUMP,
    GAS_ZERO_SPAN,
    GAS_INFRARED,
    GAS_OXYGEN,
    GAS_TWO_CHANNEL,
    GAS_PORTABLE,
    GAS_RECEIVING,
)
