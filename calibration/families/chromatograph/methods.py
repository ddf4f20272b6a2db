"""Portable chromatograph: pairs of injections of one gas, response stored, a clean blank."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import ADJUSTING, LEFT_OUTSIDE
from calibration.engine.method.method import Condition, Item, KitRole, Method, ParameterSpec, Step
from calibration.families.chromatograph.causes import wanted
from calibration.families.chromatograph.facts import CALIBRATION_GAS, GAS_SYRINGE, GAS_TRAP
from calibration.families.chromatograph.injections import (
    ANEW,
    BLANK_OUTSIDE,
    NO_PAIR,
    PAIRED,
    THIRD,
)
from calibration.families.chromatograph.ledger import part_of
from calibration.families.chromatograph.words import (
    APART,
    GAS,
    SUFFIX,
    SYRINGE,
    TRAP,
    GcRun,
    Group,
    Injection,
    Storing,
)
from calibration.families.shared import limits, parts

FIRE = (
    "Hydrogen and acetylene burn, carbon monoxide poisons: vent the bottle under the hood, no "
    "flame. Site procedure and the safety sheet of the gas come first."
)


def _alike(job: Reads, step: Step) -> bool:
    told = any(name == step.id for name, _ in job.ledger.recorded)
    return told or (bool(wanted(job)) and not part_of(job.ledger).stored)


ALIKE = Condition(_alike, "only if two causes look alike")
KIT = (
    KitRole(id=GAS, label="Calibration gas", quantity=CALIBRATION_GAS),
    KitRole(id=TRAP, label="Trap for clean air", quantity=GAS_TRAP),
)
#: One syringe for all injections: its volume counts in none of them by itself.
SYRINGE_ROLE = KitRole(id=SYRINGE, label="Gas-tight syringe", quantity=GAS_SYRINGE)
READY = Step(
    id="device_ready",
    stage="identify",
    kind="checklist",
    title="Is it ready?",
    instruction="Look at carrier, column and baseline.",
    why="A column that is not warm yet moves every peak.",
    items=(
        Item(id="carrier", label="Carrier pressure right"),
        Item(id="warm", label="Column at its temperature, baseline flat"),
        Item(id="thread", label="Injection thread two-finger tight"),
    ),
)
FILL = Step(
    id="fill",
    stage="found",
    kind="checklist",
    title="Fill the syringe",
    instruction="The first filling is mixed with what was in it: vent it at the bottle with a "
    "quarter turn, fill again, and shut the syringe first, then the bottle, at the mark.",
    why="A first filling holds a little air, and reads low in everything.",
    caution=FIRE,
    items=(
        Item(id="vented", label="First filling vented at the bottle"),
        Item(id="mark", label="Filled to the mark, syringe shut first, then the bottle"),
    ),
    anew="round",
)


def _leak(n: int, title: str, stage: str, only_if: Condition | None, order: str) -> Step:
    return Step(
        id=f"leak_{n}",
        stage=stage,  # type: ignore[arg-type]
        kind="checklist",
        title=title,
        instruction="Pull the plunger a little and let it go.",
        why="A plunger that does not spring back leaks, and the injection reads low.",
        items=(Item(id="springs", label="The plunger springs back", must=True),),
        only_if=only_if,
        order=order,
        anew="round",
    )


def _inject(
    id: str, title: str, stage: str, group: Group, only_if: Condition | None = None
) -> Injection:
    return Injection(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="injection",
        title=title,
        instruction="Inject, wait for the run to end, and read every component.",
        why="Two that agree show that volume and column are right.",
        group=group,
        only_if=only_if,
    )


def _wait(n: int, only_if: Condition | None = None) -> Step:
    return Step(
        id=f"wait_{n}",
        stage="found",
        kind="timer",
        title="Wait, as the device asks",
        instruction="Let the column clear before the next injection.",
        why="What is still on the column comes in the next run.",
        minutes="wait_minutes",
        often=("The device counted it by itself",),
        only_if=only_if,
        anew="round",
    )


RECONDITION = Step(
    id="recondition",
    stage="found",
    kind="checklist",
    title="Recondition the column",
    instruction="Three do not agree. Leak test, seals, then recondition as the manual says.",
    why="Without it the next pair is as doubtful as the first.",
    items=(Item(id="done", label="Seals looked at, column reconditioned"),),
    only_if=ANEW,
    order="recondition",
)
NONE_AGREE = Step(
    id="none_agree",
    stage="found",
    kind="no_pair",
    title="No two injections agree",
    instruction="After reconditioning, too, no two agree. End the job here: failed, or not done.",
    why="Without a pair nothing is known of the device, and nothing of it is judged.",
    only_if=NO_PAIR,
)
PUT_RIGHT = Step(
    id="put_right",
    stage="found",
    kind="checklist",
    title="Put right what was wrong",
    instruction="Seals and thread for a leak, the column for late peaks; then begin anew.",
    why="The same test again would say the same.",
    items=(Item(id="done", label="Seals looked at; column reconditioned where peaks came late"),),
    only_if=Condition(lambda job, step: bool(job.ledger.attempts), "only if it is repeated"),
    order="recondition",
    anew="round",
)
TELL = Step(
    id=APART,
    stage="found",
    kind="record",
    title="Tell the causes apart",
    instruction="Two causes look alike. One more injection tells which it is.",
    why="A response that is stored hides a leak until the next gas.",
    only_if=ALIKE,
)
STORE = Storing(
    id="store",
    stage="adjust",
    kind="storing",
    title="Store the response",
    instruction="Let the device take the mean of the pair as its new response.",
    why="Only the pair that agrees is stored.",
    only_if=ADJUSTING,
)
PURGE = Step(
    id="purge",
    stage="return",
    kind="timer",
    title="Purge the channels",
    instruction="Purge, and wait.",
    why="What stays in the channels is in the next sample.",
    minutes="purge_minutes",
    often=("The device purged by itself",),
)
DRAW = Step(
    id="draw_air",
    stage="return",
    kind="checklist",
    title="Draw clean air through the trap",
    instruction="Through the trap, expelled by the other port, never back through it.",
    why="Air that goes back through it loads the trap.",
    items=(
        Item(id="drawn", label="Drawn through the trap, expelled by the other port"),
        Item(id="capped", label="Trap shut and capped at once"),
    ),
    order="air",
)
AGAIN = replace(
    DRAW,
    id="draw_again",
    title="Draw again",
    instruction="The blank is not clean: draw again, slower or faster, through the same trap or "
    "a fresh one; or purge once more. Where was it drawn?",
    why="Outdoor air holds about 1.9 ppm of methane, which no trap takes.",
    only_if=BLANK_OUTSIDE,
    order="fresh_air",
)
_RUN: dict[str, Any] = {"kind": "injected", "start": "{value}", "up": "{value}"}


def _runs() -> tuple[GcRun, ...]:
    found = []
    for id, title, role in (
        ("as_found", "As found", "found"),
        ("as_left", "As left", "left"),
        ("blank", "Blank", "check"),
        ("blank_again", "Blank, drawn again", "check"),
    ):
        for n, s in enumerate(SUFFIX):
            found.append(
                GcRun(
                    id=id + s,
                    title=title,
                    role=role,  # type: ignore[arg-type]
                    again=f"base{s}" if role != "check" else "",
                    before=role == "found",
                    channel=n,
                    **_RUN,
                )
            )
    return tuple(found)


#: As it was: nothing was known of the syringe, and a measurement that tells causes apart was asked
#: for once. For jobs that began with it.
GC_CALIBRATE_1 = Method(
    id="gc_calibrate",
    version=1,
    title="Portable chromatograph, calibrate",
    called="chromatograph",
    fits="Two injections that agree, response stored, and a clean blank.",
    runs=_runs(),
    steps=(
        parts.kit(*KIT, names="calibration gas and trap"),
        parts.IDENTITY,
        READY,
        PUT_RIGHT,
        FILL,
        _leak(1, "Leak test, first injection", "found", None, "gas"),
        _inject("inject_1", "First injection", "found", "found"),
        _wait(1),
        _leak(2, "Leak test, second injection", "found", None, "gas"),
        _inject("inject_2", "Second injection", "found", "found"),
        _wait(2, THIRD),
        _leak(3, "Leak test, third injection", "found", THIRD, "gas"),
        _inject("inject_3", "Third injection", "found", "found", THIRD),
        RECONDITION,
        _leak(4, "Leak test, injection after it", "found", ANEW, "gas"),
        _inject("inject_4", "First injection anew", "found", "found", ANEW),
        _wait(4, ANEW),
        _leak(5, "Leak test, second after it", "found", ANEW, "gas"),
        _inject("inject_5", "Second injection anew", "found", "found", ANEW),
        NONE_AGREE,
        TELL,
        replace(parts.JUDGE, only_if=PAIRED),
        STORE,
        _leak(6, "Leak test, check injection", "left", ADJUSTING, "gas"),
        _inject("check_injection", "Check injection", "left", "left", ADJUSTING),
        Step(
            id="left_judge",
            stage="left",
            kind="decide",
            judges="left",
            title="Decision as left",
            instruction="A component is still outside: store again, or stop.",
            why="A result by a wrong response goes into a paper that people rely on.",
            only_if=LEFT_OUTSIDE,
        ),
        PURGE,
        DRAW,
        _inject("blank_1", "Blank", "return", "blank"),
        AGAIN,
        _inject("blank_2", "Blank, drawn again", "return", "blank", BLANK_OUTSIDE),
        parts.restore(
            Item(id="bottle", label="Bottle shut, syringe and trap capped"),
            Item(id="day", label="Written on it: good until it is switched off, or midnight"),
        ),
        parts.SIGN,
    ),
    parameters=limits.parameters(
        ParameterSpec(
            id="agree_percent",
            label="Two injections agree within",
            default="2.5",
            unit="%",
            least="0.1",
            most="20",
        ),
        ParameterSpec(
            id="wait_minutes", label="Between injections", default="5", unit="min", most="60"
        ),
        ParameterSpec(id="purge_minutes", label="Purge", default="3", unit="min", most="60"),
        without=("points", "pattern", "cycles", "overshoot_percent", "warm_up_minutes"),
        interval_days="30",
    ),
    sources="Resolution: IUPAC, Pure Appl. Chem. 65 (1993) 819. Uncertainty: JCGM 100. Decision: "
    "JCGM 106, ILAC-G8.",
)
GC_CALIBRATE = replace(
    GC_CALIBRATE_1,
    version=2,
    steps=(
        parts.kit(*KIT, SYRINGE_ROLE, names="calibration gas, trap and syringe"),
        *parts.in_each_round(GC_CALIBRATE_1.steps[1:], APART),
    ),
)
