"""Three methods: zero and span with weights, the same for a new belt, material by truck."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from calibration.engine.method.conditions import ADJUSTING, LEFT_OUTSIDE, TRIMMING
from calibration.engine.method.method import (
    Field,
    Item,
    KitRole,
    Method,
    ParameterSpec,
    SetItem,
    Step,
)
from calibration.families.belt.facts import TRUCK_SCALE
from calibration.families.belt.shape import wanted
from calibration.families.belt.words import TAKE_OVER, TurnsRun
from calibration.families.shared import differential, limits, parts
from calibration.families.shared.runs import found_run, left_run
from calibration.families.shared.weights import ROLE, WEIGHTS
from calibration.measuring.belt import LOCKOUT

HANDS = (
    "A belt starts without warning and takes an arm in a moment. Every person hangs a lock of "
    "their own and keeps its key; site procedure, local code and licensed practice come first."
)


def _lock(id: str, stage: str, title: str, what: str, **when: Any) -> tuple[Step, Step]:
    """Return the steps in which locks are hung before hands go in, and come off afterwards."""
    on = Step(
        id=f"{id}_locked",
        stage=stage,  # type: ignore[arg-type]
        kind="lock_on",
        title=title,
        instruction=f"Stop the belt, lock it out, prove that it stays still; then {what}.",
        why="Everybody whose hands go in hangs a lock of their own.",
        caution=HANDS,
        on_label="Belt locked out",
        **when,
    )
    off = Step(
        id=f"{id}_unlocked",
        stage=stage,  # type: ignore[arg-type]
        kind="lock_off",
        title="Locks off",
        instruction="Hands and tools out: everybody takes off their own lock, and only that.",
        why="Nobody takes off another's lock; of somebody absent a planner decides.",
        caution=HANDS,
        ends=f"{id}_locked",
        only_if=when.get("only_if"),
    )
    return on, off


def _turns(id: str, stage: str, title: str, instruction: str, **more: Any) -> Step:
    return Step(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="capture",
        title=title,
        instruction=instruction,
        why="A belt is uneven round its loop: only whole revolutions compare.",
        caution=LOCKOUT,
        run=id,
        **more,
    )


def _running(id: str, stage: str, label: str, **when: Any) -> Step:
    return Step(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="checklist",
        title="Start the belt",
        instruction="Have the belt started; stay clear of it.",
        why="It runs for a while before anything is counted.",
        caution=LOCKOUT,
        order="run",
        starts=True,
        items=(Item(id="runs", label=label),),
        **when,
    )


def _weights(stage: str, id: str, **when: Any) -> tuple[Step, Step]:
    on = Step(
        id=f"{id}_on",
        stage=stage,  # type: ignore[arg-type]
        kind="put_on",
        title="Weights on",
        button="Weights hang free",
        instruction="Hang the weights, or lower them; they hang free.",
        why="They stand for a load that passes.",
        caution=HANDS,
        on_label="Test weights on the belt scale",
        **when,
    )
    off = Step(
        id=f"{id}_off",
        stage=stage,  # type: ignore[arg-type]
        kind="take_off",
        title="Weights off",
        button="Weights are off",
        instruction="Take the weights off, or lift them and lock the lifter.",
        caution=HANDS,
        ends=f"{id}_on",
        only_if=when.get("only_if"),
    )
    return on, off


def _round(stage: str, zero: str, span: str, id: str, **when: Any) -> tuple[Step, ...]:
    """Return zero and span: empty, then with the weights, under lock-out before and after."""
    only = {"only_if": when.get("only_if")}
    on, off = _weights(stage, f"{id}weights", **when)
    locked, unlocked = _lock(f"{id}on", stage, "Lock out: weights on", "hang the weights", **when)
    again, free = _lock(f"{id}off", stage, "Lock out: weights off", "take the weights off", **when)
    name = "as found" if stage == "found" else "as left"
    return (
        _running(f"{id}zero_runs", stage, "The belt runs empty, weights off", **when),
        _turns(zero, stage, f"Zero {name}", "Whole revolutions, empty.", **only),
        locked,
        on,
        unlocked,
        _running(f"{id}span_runs", stage, "The belt runs, weights on, everybody clear", **when),
        _turns(span, stage, f"Span {name}", "Whole revolutions with the weights.", **only),
        again,
        off,
        free,
    )


WARM = replace(
    parts.WARM_UP,
    title="Belt warm",
    instruction="Let the belt run empty until it is warm.",
    why="A cold belt is stiff: it carries part of the load itself.",
    often=("It has run all shift",),
)
EMPTY = Step(
    id="belt_empty",
    stage="identify",
    kind="checklist",
    title="Empty and clean",
    instruction="Look along the belt and at the weigh bridge, from outside the guards.",
    why="What lies there is the zero of every load.",
    caution=LOCKOUT,
    anew="round",
    order="cleared",
    items=(
        Item(id="empty", label="Belt empty over its whole length"),
        Item(id="clean", label="Weigh bridge, idlers and scraper clean"),
        Item(id="off", label="Test weights off", must=True),
    ),
)
FOUND_COUNTS = parts.settings(
    Field(
        id="zero_count",
        barred="Each revolution is judged against it.",
        label="Zero kept, counts a revolution",
        kind="number",
    ),
    Field(
        id="span_count",
        barred="Each revolution is judged against it.",
        label="Span kept with weights, counts a revolution",
        kind="number",
    ),
    what="the counts that the integrator keeps",
)
TELL = differential.step("New counts hide a fault that they do not cure.", wanted)
COUNTS = Step(
    id=TAKE_OVER,
    stage="adjust",
    kind="set",
    title="Take the counts over",
    instruction="Write the new zero and span to the integrator, and read them back.",
    why="They are the means of whole revolutions.",
    caution="The rate shown moves with them.",
    only_if=TRIMMING,
    sets=(
        SetItem(id="zero_count", label="Zero", to="new_zero", adjusts=True),
        SetItem(id="span_count", label="Span", to="new_span", adjusts=True),
    ),
)
LEFT_JUDGE = Step(
    id="left_judge",
    stage="left",
    kind="decide",
    judges="left",
    title="Decision as left",
    instruction="It is still outside: take the counts over again, or stop.",
    why="A scale outside its limit goes back only with eyes open.",
    only_if=LEFT_OUTSIDE,
)
BACK = Step(
    id="load_alive",
    stage="return",
    kind="record",
    part="environment",
    title="It weighs again",
    instruction="Back in run mode, load on: read the rate.",
    why="An integrator left in its test counts nothing.",
    fields=(Field(id="rate_shown", label="Rate shown", kind="number", unit="t/h"),),
)
_RUN: dict[str, Any] = {"kind": "whole_turns", "start": "{value}", "up": "{value}"}


def _runs(baseline: bool) -> tuple[TurnsRun, ...]:
    found: dict[str, Any] = {**_RUN, "role": "found", "before": True, "baseline": baseline}
    left: dict[str, Any] = {**_RUN, "role": "left"}
    return (
        TurnsRun(id="as_found", title="Zero as found", again="zero_base", of="zero", **found),
        TurnsRun(
            id="span_as_found",
            title="Span as found",
            again="span_base",
            of="span",
            channel=1,
            **found,
        ),
        TurnsRun(id="zero_as_left", title="Zero as left", again="zero_base", of="zero", **left),
        TurnsRun(
            id="span_as_left", title="Span as left", again="span_base", of="span", channel=1, **left
        ),
    )


_STEPS = (
    parts.kit(KitRole(id=ROLE, label="Test weights", quantity=WEIGHTS), names="the weights"),
    parts.OPERATOR,
    parts.BYPASS,
    parts.IDENTITY,
    FOUND_COUNTS,
    WARM,
    EMPTY,
    *_round("found", "as_found", "span_as_found", "", anew="test"),
    TELL,
    parts.JUDGE,
    COUNTS,
    *_round("left", "zero_as_left", "span_as_left", "left_", anew="proof", only_if=ADJUSTING),
    LEFT_JUDGE,
    BACK,
    parts.UNBYPASS,
    parts.restore(Item(id="guards", label="Guards and covers closed, lifter locked")),
    parts.SIGN,
)
_WITHOUT = ("points", "pattern", "cycles", "overshoot_percent")
_GIVEN: dict[str, Any] = {
    "steps": _STEPS,
    "sources": "Limits: the manual of the scale. Uncertainty: JCGM 100. Decision: JCGM 106, "
    "ILAC-G8.",
}
_SHARED: dict[str, Any] = {
    "without": _WITHOUT,
    "warm_up_minutes": "20",
    "stable_band_percent": "5",
    "stable_dwell_s": "1",
}
ROUTINE = Method(
    id="belt_routine",
    version=1,
    title="Belt scale, zero and span with weights",
    called="zero and span",
    fits="Whole revolutions without and with weights, against the last counts.",
    runs=_runs(baseline=False),
    parameters=limits.parameters(interval_days="30", **_SHARED),
    **_GIVEN,
)
COMMISSION = Method(
    id="belt_commission",
    version=1,
    title="Belt scale, new belt or commissioning",
    called="commissioning",
    fits="A first zero and span are the baseline; all of it is run twice.",
    runs=_runs(baseline=True),
    parameters=limits.parameters(interval_days="365", school="always", **_SHARED),
    **_GIVEN,
)
BY_MATERIAL = Step(
    id="span_by_material",
    stage="adjust",
    kind="set",
    title="Span by material",
    instruction="Write the span that the loads give, and read it back.",
    why="Material shows what hung weights do not: tension and alignment.",
    caution="The rate shown moves with it.",
    only_if=TRIMMING,
    sets=(SetItem(id="material_span", label="Span", to="by_material", adjusts=True),),
)
MATERIAL_TEST = Method(
    id="belt_material",
    version=1,
    title="Belt scale, material test",
    called="material test",
    fits="Loads over belt and truck scale: the only test that sees tension and alignment.",
    runs=(found_run(kind="material"), left_run(kind="material")),
    steps=(
        parts.kit(
            KitRole(id="truck_scale", label="Truck scale", quantity=TRUCK_SCALE),
            names="the truck scale",
        ),
        parts.OPERATOR,
        parts.BYPASS,
        parts.IDENTITY,
        parts.settings(
            Field(
                id="material_span",
                barred="The new number is worked out from it.",
                label="Span number kept",
                kind="number",
            ),
            what="the span number of the integrator",
        ),
        WARM,
        Step(
            id="zero_fresh",
            stage="found",
            kind="checklist",
            title="Ready for material",
            instruction="Bring belt, chutes and truck into the state of every load.",
            why="What stays behind is counted by one of the two only.",
            caution=LOCKOUT,
            anew="round",
            order="cleared",
            items=(
                Item(id="zero", label="Zero of the belt scale taken today"),
                Item(id="chutes", label="Chutes empty, nothing spills"),
                Item(id="truck", label="Truck scale at zero and in date"),
            ),
        ),
        _turns("as_found", "found", "Loads as found", "Load after load over belt and truck."),
        TELL,
        parts.JUDGE,
        BY_MATERIAL,
        _turns("as_left", "left", "Loads as left", "Loads again.", only_if=ADJUSTING),
        LEFT_JUDGE,
        BACK,
        parts.UNBYPASS,
        parts.restore(Item(id="guards", label="Guards and covers closed")),
        parts.SIGN,
    ),
    parameters=limits.parameters(
        ParameterSpec(id="loads", label="Loads", default="3", least="1", most="10"),
        interval_days="365",
        **{**_SHARED, "stable_band_percent": "1", "stable_dwell_s": "5"},
    ),
    sources=_GIVEN["sources"],
)
