"""Several components on one mixture: zero gas and mixture once each, all of it read and set."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from calibration.engine.method.method import Field, Item, KitRole, Method, ParameterSpec, Step
from calibration.families.mixture.conditions import ALIKE
from calibration.families.mixture.facts import MIXTURE, ZERO_GAS
from calibration.families.mixture.gases import OUTSIDE_AFTERWARDS, OUTSIDE_UNTOUCHED, WAS_SET
from calibration.families.mixture.words import APART, BEFORE, ROLES, SUFFIX, Gas, MixRun, Together
from calibration.families.shared import limits, parts

POISON = (
    "Mixtures with carbon monoxide poison, nitrogen and carbon dioxide smother: vent outdoors, "
    "gas alarm on, as permit and site procedure say."
)
KIT = (
    KitRole(id=ROLES["zero"], label="Zero gas", quantity=ZERO_GAS),
    KitRole(id=ROLES["span"], label="Mixture", quantity=MIXTURE),
)
PROCESS_BEFORE = Step(
    id=BEFORE,
    stage="safe",
    kind="record",
    part="environment",
    title="What it reads in the process",
    instruction="Before it is touched: every component as shown.",
    why="Figures that do not move between process and gas are a test that ended in hold.",
    fields=tuple(
        Field(id=f"shown{s}", label="{component} before", kind="number", channel=n)
        for n, s in enumerate(SUFFIX)
    ),
)
READY = Step(
    id="mode",
    stage="identify",
    kind="checklist",
    title="Is it measuring?",
    instruction="Look at figures and pump for a minute.",
    why="A frozen figure and a still pump is a finished test in hold: the commonest mistake.",
    items=(
        Item(id="moving", label="Continuous mode: the figures move", must=True),
        Item(id="pump", label="Pump or sample flow on"),
        Item(id="filter", label="Filter dry and clean"),
    ),
)
AUTO_ZERO = Step(
    id="next_zero",
    stage="identify",
    kind="record",
    part="",
    title="When does it zero by itself?",
    instruction="Read when its automatic zero comes next.",
    why="It would interrupt the reading, and no reading counts just after one.",
    fields=(
        Field(id="minutes_to_zero", label="Next automatic zero in", kind="number", unit="min"),
    ),
)


def _on(gas: Gas, title: str, instruction: str, label: str) -> Step:
    return Step(
        id=f"{gas}_on",
        stage="found",
        kind="put_on",
        title=title,
        button=f"{label.removesuffix(' on')} is on",
        instruction=instruction,
        why="At another flow or pressure the cells read otherwise.",
        caution=POISON,
        on_label=label,
        order=gas,
        anew="round",
    )


def _off(gas: Gas, title: str, id: str = "", ends: str = "") -> Step:
    return Step(
        id=id or f"{gas}_off",
        stage="found",
        kind="take_off",
        title=title,
        button=f"{title.partition(' off')[0]} is off",
        instruction="Shut the cylinder, and take its line off.",
        why="Gas that leaks into the sample reads as process.",
        ends=ends or f"{gas}_on",
        order="process",
    )


def _read(gas: Gas, title: str, instruction: str) -> Together:
    return Together(
        id=f"in_{gas}",
        stage="found",
        kind="together",
        title=title,
        instruction=instruction,
        why="Read before it is set: without it nobody knows how far off it was.",
        gas=gas,
    )


ZERO_ON = _on(
    "zero",
    "Zero gas on",
    "Bring zero gas to its own inlet; its vent is free, and away from people's breath.",
    "Zero gas on",
)
MIX_ON = _on(
    "span",
    "Mixture on",
    "Bring the mixture through a tee: the overflow is seen, and led outdoors.",
    "Mixture on",
)
IN_ZERO = _read("zero", "In zero gas", "Read every component when it is steady; zero what is off.")
IN_MIXTURE = _read(
    "span", "In the mixture", "Read every component when it is steady; set in the order shown."
)
LOOK = replace(
    IN_MIXTURE,
    id="look_again",
    title="Look at all of it again",
    instruction="Before the mixture is shut: read every component once more.",
    why="Setting one moves others: the first one is looked at again.",
    again=True,
    only_if=WAS_SET,
)
TELL = Step(
    id=APART,
    stage="found",
    kind="record",
    title="Tell the causes apart",
    instruction="Two causes look alike. One more measurement tells which it is.",
    why="Setting hides a fault that it does not cure.",
    only_if=ALIKE,
)
WAIT = Step(
    id="wait",
    stage="left",
    kind="timer",
    title="Let it work for a while",
    instruction="Back in its working mode, ten to fifteen minutes.",
    why="A change of mode moves the zero.",
    minutes="re_zero_minutes",
    only_if=WAS_SET,
)
ZERO_AGAIN_ON = replace(
    ZERO_ON, id="zero_again_on", stage="left", title="Zero gas on again", only_if=WAS_SET
)
ZERO_AGAIN = replace(
    IN_ZERO,
    id="zero_again",
    stage="left",
    title="Zero again",
    instruction="Read every component in zero gas once more.",
    why="It proves the zeros in the mode in which it works.",
    again=True,
    only_if=WAS_SET,
)
ZERO_AGAIN_OFF = replace(
    _off("zero", "Zero gas off again", "zero_again_off", "zero_again_on"),
    stage="left",
    only_if=WAS_SET,
)
BACK = Step(
    id="process_back",
    stage="return",
    kind="record",
    part="environment",
    title="What it reads in the process again",
    instruction="Sample on, figures steady: every component as shown.",
    why="A line left on, or a cell left in hold, shows here.",
    fields=tuple(
        Field(id=f"back{s}", label="{component} afterwards", kind="number", channel=n)
        for n, s in enumerate(SUFFIX)
    ),
)
RESTORE = parts.restore(
    Item(id="mode", label="Working mode, automatic zero as it was"),
    Item(id="cylinders", label="Cylinders shut and secured"),
    parts.COVERS,
)


def _runs() -> tuple[MixRun, ...]:
    shared: dict[str, Any] = {"kind": "mixture", "start": "{value}", "up": "{value}"}
    found = [
        MixRun(
            id=f"as_found{s}",
            title="As found",
            role="found",
            again=f"base{s}",
            before=True,
            channel=n,
            **shared,
        )
        for n, s in enumerate(SUFFIX)
    ]
    left = [
        MixRun(
            id=f"as_left{s}", title="As left", role="left", again=f"base{s}", channel=n, **shared
        )
        for n, s in enumerate(SUFFIX)
    ]
    return (*found, *left)


#: As it was: a measurement that tells causes apart was asked for once. For jobs that began with it.
MIX_CALIBRATE_1 = Method(
    id="mixture_calibrate",
    version=1,
    title="Several components on one mixture",
    called="one mixture",
    fits="Zero gas and mixture once each: every component read, and set where it must be.",
    runs=_runs(),
    steps=(
        parts.kit(*KIT, names="zero gas and mixture"),
        parts.OPERATOR,
        parts.BYPASS,
        PROCESS_BEFORE,
        parts.IDENTITY,
        parts.WARM_UP,
        READY,
        AUTO_ZERO,
        ZERO_ON,
        IN_ZERO,
        _off("zero", "Zero gas off"),
        MIX_ON,
        IN_MIXTURE,
        TELL,
        LOOK,
        _off("span", "Mixture off"),
        replace(parts.JUDGE, stage="adjust", only_if=OUTSIDE_UNTOUCHED),
        WAIT,
        ZERO_AGAIN_ON,
        ZERO_AGAIN,
        ZERO_AGAIN_OFF,
        Step(
            id="left_judge",
            stage="left",
            kind="decide",
            judges="left",
            title="Decision as left",
            instruction="A component is still outside: set it again, or stop.",
            why="An analyzer outside its limits goes back only with eyes open.",
            only_if=OUTSIDE_AFTERWARDS,
        ),
        BACK,
        parts.UNBYPASS,
        RESTORE,
        parts.SIGN,
    ),
    parameters=limits.parameters(
        ParameterSpec(
            id="re_zero_minutes", label="Zero again after", default="10", unit="min", most="60"
        ),
        ParameterSpec(
            id="gas_minutes",
            label="Before an automatic zero",
            default="15",
            unit="min",
            most="120",
        ),
        without=("points", "pattern", "cycles", "overshoot_percent"),
        warm_up_minutes="30",
        interval_days="90",
        stable_band_percent="0.2",
        stable_dwell_s="15",
    ),
    sources="Composition: certificates of the gases. Uncertainty: JCGM 100. Decision: JCGM 106, "
    "ILAC-G8.",
)
MIX_CALIBRATE = replace(
    MIX_CALIBRATE_1, version=2, steps=parts.in_each_round(MIX_CALIBRATE_1.steps, APART)
)
