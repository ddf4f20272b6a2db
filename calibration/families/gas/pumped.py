"""Portables as they are done: each cylinder opened once, all its gases read together and set.

In clean air all is read and zeroed first. As found counts that: what a gas would have shown
before its zero was set is what is judged.
"""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import REPLACING
from calibration.engine.method.method import Condition, Method, ParameterSpec, Step
from calibration.families.gas import parts as gas
from calibration.families.gas import portable, since
from calibration.families.gas.exposure import (
    OUTSIDE_AFTERWARDS,
    OUTSIDE_UNTOUCHED,
    zeroed_apart,
)
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import SUFFIX
from calibration.families.gas.words import Exposure, GasRun
from calibration.gas.cylinder import Purpose

ZERO_BY = ParameterSpec(
    id="zero_by",
    label="Zero of carbon dioxide by",
    default="outdoor air",
    kind="choice",
    choices=("outdoor air", "nitrogen", "absorber"),
)


def _zeroed_by(way: str) -> Condition:
    """Return the condition that a gas which clean air holds is zeroed in a way."""

    def test(job: Reads, step: Step) -> bool:
        apart = any(zeroed_apart(c) for c in channels(job.ledger.facts))
        return apart and job.settings.choice(ZERO_BY.id) == way

    # Without words: where it is not so, nobody needs to read of it.
    return Condition(test, "", by_plan=True)


def _exposure(id: str, title: str, instruction: str, why: str, purpose: Purpose) -> Exposure:
    return Exposure(
        id=id,
        stage="found",
        kind="exposure",
        title=title,
        instruction=instruction,
        why=why,
        gas=purpose,
    )


AIR = _exposure(
    "clean_air",
    "Clean air, every gas",
    "Read every gas in clean air, beside a proven instrument, and zero it.",
    "A zero in air that carries gas hides that much gas from then on.",
    "air",
)
ABSORBER_ON = Step(
    id="absorber_on",
    stage="found",
    kind="put_on",
    title="Absorber on",
    button="Absorber is on",
    instruction="Put the absorber filter on the inlet, in date and of the right kind.",
    why="Clean air holds carbon dioxide: its zero is air without it.",
    on_label="Absorber on the inlet",
    on_kind="connection",
    only_if=_zeroed_by("absorber"),
)
ABSORBER_WAIT = Step(
    id="absorber_wait",
    stage="found",
    kind="timer",
    title="Pump on, through the absorber",
    instruction="Let it draw through the absorber until the gas is out of hose and cell.",
    why="What is left in the hose would be set as zero.",
    minutes="absorber_minutes",
    only_if=_zeroed_by("absorber"),
)
BY_ABSORBER = replace(
    _exposure(
        "zero_absorber",
        "Zero by the absorber",
        "Read it through the absorber and zero it.",
        "Clean air holds carbon dioxide: its zero is air without it.",
        "absorber",
    ),
    only_if=_zeroed_by("absorber"),
)
ABSORBER_OFF = Step(
    id="absorber_off",
    stage="found",
    kind="take_off",
    title="Absorber off",
    button="Absorber is off",
    instruction="Take the absorber off the inlet.",
    why="Behind an absorber the instrument is blind to that gas.",
    ends="absorber_on",
    only_if=_zeroed_by("absorber"),
)
BY_NITROGEN = replace(
    _exposure(
        "zero_nitrogen",
        "Zero in nitrogen",
        "Read it in nitrogen and zero it.",
        "Clean air holds carbon dioxide: its zero is nitrogen.",
        "nitrogen",
    ),
    only_if=_zeroed_by("nitrogen"),
    caution="Nitrogen smothers without warning. " + gas.CARE,
)
ABSORBER_MINUTES = ParameterSpec(
    id="absorber_minutes",
    label="Through the absorber",
    default="5",
    unit="min",
    least="1",
    most="30",
)


def _cylinder(channel: int) -> Exposure:
    return replace(
        _exposure(
            f"gas{SUFFIX[channel]}",
            "Gas on",
            "Open the cylinder once, read all its gases when they are steady, and set them.",
            "Read before it is set: without it nobody can tell whether it would have warned.",
            "span",
        ),
        channel=channel,
        caution=gas.CARE,
    )


CYLINDERS = tuple(_cylinder(n) for n in portable.CHANNELS)
CLEAR = replace(
    _exposure(
        "clear",
        "Clear of gas",
        "Let it draw clean air until every gas is clear, and read it.",
        "It goes back only when what it shows is clean air.",
        "air",
    ),
    stage="return",
    clear=True,
    caution="A reading that does not fall may be real gas: leave, and follow the site's alarm "
    "procedure.",
)
EXPOSED = (
    AIR,
    ABSORBER_ON,
    ABSORBER_WAIT,
    BY_ABSORBER,
    ABSORBER_OFF,
    BY_NITROGEN,
    *CYLINDERS,
    replace(gas.JUDGE, only_if=OUTSIDE_UNTOUCHED),
    replace(gas.LEFT_JUDGE, only_if=OUTSIDE_AFTERWARDS),
    CLEAR,
    gas.AIR_JUDGE,
)
#: Steps of before whose place the exposures take.
_OF_BEFORE = ("air_test", "judge", "replace", "left_judge", "air_judge")


def _taken_over(step: Step) -> bool:
    own = step.kind in ("capture", "gas_set") or step.on_kind == "adapter"
    return own or step.id in _OF_BEFORE or step.ends in ("adapter", "adapter_again")


RUNS = (
    *(
        GasRun(
            id=f"zero_apart{SUFFIX[n]}",
            title="Zero, as found",
            kind="gas",
            role="check",
            before=True,
            gases=("zero",),
            channel=n,
        )
        for n in portable.CHANNELS
    ),
)


def exposed_once(method: Method, *more: ParameterSpec) -> Method:
    """Return a method for a portable in which each cylinder is opened once."""
    kept: list[Step] = []
    placed = False
    for step in method.steps:
        if _taken_over(step):
            if not placed:
                kept += [replace(gas.REPLACE, stage="found", only_if=REPLACING), *EXPOSED]
            placed = True
            continue
        if step.kind == "kit":
            step = replace(step, roles=(*step.roles[:-1], _NITROGEN, step.roles[-1]))
        kept.append(step)
    return replace(
        method,
        version=method.version + 1,
        runs=(*method.runs, *RUNS),
        steps=tuple(kept),
        parameters=(*method.parameters, ZERO_BY, ABSORBER_MINUTES, *more),
    )


_NITROGEN = replace(gas.NITROGEN, channel=0)
GAS_PORTABLE = exposed_once(since.GAS_PORTABLE)
GAS_RECEIVING = exposed_once(since.GAS_RECEIVING)
METHODS = (GAS_PORTABLE, GAS_RECEIVING)
