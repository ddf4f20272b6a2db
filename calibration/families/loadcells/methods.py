"""Three ways to calibrate a vessel: weights up and down, substitution, by data and then checked."""

from __future__ import annotations

from typing import Any

from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import ADJUSTING, LEFT_OUTSIDE, TRIMMING, site_says
from calibration.engine.method.method import (
    Condition,
    Field,
    Item,
    KitRole,
    Method,
    ParameterSpec,
    SetItem,
    Step,
)
from calibration.families.loadcells.shape import wanted
from calibration.families.loadcells.words import COUNTS, SEND_SPAN, SEND_ZERO, LoadRun, Points
from calibration.families.shared import differential, limits, parts
from calibration.families.shared.setting import KIND as SET_AT
from calibration.families.shared.weights import ROLE, WEIGHTS
from calibration.measuring.weighing import LOAD

NO_DISCHARGE = Step(
    id="no_discharge",
    stage="safe",
    kind="put_on",
    title="Feed and discharge locked",
    button="Feed and discharge are locked",
    instruction="Have feed and discharge shut and locked, as the site procedure says.",
    why="What runs in or out meanwhile is weighed as an error, and can bury a person.",
    caution=LOAD,
    on_label="Feed and discharge locked",
)
SERVICE = Step(
    id="service_mode",
    stage="identify",
    kind="put_on",
    title="Service mode on",
    button="Service mode is on",
    instruction="Put the electronics into service mode.",
    why="From the first value that is written until it is off nobody may trust the weight.",
    caution="Batches and interlocks that use this weight must not run.",
    on_label="Service mode on",
    on_kind="fixed",
)
FOUND_SETTINGS = parts.settings(
    Field(id="zero_mvv", label="Zero found", kind="number", unit="mV/V", must_match="zero_mvv"),
    Field(
        id="span_mvv",
        label="Span found, signal of the capacity",
        kind="number",
        unit="mV/V",
        must_match="span_mvv",
    ),
    what="zero and span in the electronics; connected is not synchronized: read, compare",
)
EMPTY = Step(
    id="vessel_empty",
    stage="found",
    kind="checklist",
    title="Empty and free",
    instruction="Look all round the vessel.",
    why="What carries or lies there is weighed with every load.",
    caution=LOAD,
    anew="round",
    order="empty",
    items=(
        Item(id="empty", label="Empty, clean, nothing leans on it"),
        Item(id="free", label="Pipes, stays and sleeves free; bumpers do not touch"),
        Item(id="hoist", label="Hoist and slings in date, nobody under the load", must=True),
    ),
)
CORNER_TEST = site_says("corner_test")


def _corners_again(job: Reads, step: Step) -> bool:
    found = job.figures("corners")
    changing = ADJUSTING.test(job, step)
    return bool(changing and found.order and found.mark == "outside")


CORNERS_AGAIN = Condition(_corners_again, "only if a corner was put right")


def _capture(id: str, stage: str, title: str, instruction: str, **more: Any) -> Step:
    return Step(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="capture",
        title=title,
        instruction=instruction,
        why="Read before it is touched: without it nobody knows what was wrong."
        if stage == "found"
        else "Only the same loads prove what was set.",
        caution=LOAD,
        run=id,
        **more,
    )


FIRST_CORNERS = _capture(
    "corners",
    "found",
    "Corners",
    "The same weight over each support in turn.",
    only_if=CORNER_TEST,
)
TELL = differential.step("Setting hides a fault that it does not cure.", wanted)
ZERO = Step(
    id=SEND_ZERO,
    stage="adjust",
    kind=SET_AT,
    title="Zero set",
    instruction="Set the zero with the vessel empty.",
    why="The empty vessel is zero; the span is set on top of it.",
    only_if=TRIMMING,
    order="zero",
)
SPAN = Step(
    id=SEND_SPAN,
    stage="adjust",
    kind=SET_AT,
    title="Span set",
    instruction="Hang all weights, key in what they are worth, and send it.",
    why="The weight says what the signal is worth.",
    caution=LOAD,
    only_if=TRIMMING,
    order="span",
)
BY_DATA = Step(
    id="span_by_data",
    stage="adjust",
    kind="set",
    title="Span by the data of the cells",
    instruction="Write the signal of the capacity: mean sensitivity, rated load, local gravity.",
    why="It is only as good as the data: a weight checks it afterwards.",
    caution="The weight shown jumps. Only in service mode.",
    only_if=TRIMMING,
    sets=(
        SetItem(
            id="span_mvv",
            label="Span, signal of the capacity",
            unit="mV/V",
            to="by_data",
            adjusts=True,
        ),
    ),
)
READ_BACK = Step(
    id=COUNTS,
    stage="left",
    kind="record",
    title="Read zero and span back",
    instruction="Read both again out of the electronics.",
    why="They restore the scale without weights, and show which way it moved.",
    fields=(
        Field(id="zero_now", label="Zero now", kind="number", unit="mV/V"),
        Field(id="span_now", label="Span now", kind="number", unit="mV/V"),
    ),
    only_if=ADJUSTING,
    anew="round",
)
BACKUP = Step(
    id="backup",
    stage="left",
    kind="record",
    part="",
    title="Backup",
    instruction="Save the settings, and say where.",
    why="An exchanged electronics is set from it within minutes.",
    fields=(
        Field(id="backup_name", label="Name of the backup"),
        Field(id="backup_place", label="Where it is kept"),
        Field(id="backup_digest", label="Its digest", required=False),
    ),
    only_if=ADJUSTING,
)
LEFT_JUDGE = Step(
    id="left_judge",
    stage="left",
    kind="decide",
    judges="left",
    title="Decision as left",
    instruction="It is still outside: set it again, or stop.",
    why="A scale outside its limit goes back only with eyes open.",
    only_if=LEFT_OUTSIDE,
)
BACK = (
    Step(
        id="weights_off",
        stage="return",
        kind="checklist",
        title="Weights down",
        instruction="Take weights, slings and frame off; count them.",
        why="A weight that stays is weighed for ever.",
        caution=LOAD,
        items=(Item(id="counted", label="All weights down and counted"),),
    ),
    Step(
        id="service_off",
        stage="return",
        kind="take_off",
        title="Service mode off",
        button="Service mode is off",
        instruction="End the service mode; see the weight move in the control room.",
        ends="service_mode",
    ),
    Step(
        id="discharge_free",
        stage="return",
        kind="take_off",
        title="Feed and discharge free",
        button="Feed and discharge are free",
        instruction="Have the locks taken off, as the site procedure says.",
        ends="no_discharge",
    ),
    parts.UNBYPASS,
    parts.restore(Item(id="pipes", label="Pipes and stays as found"), parts.COVERS),
    parts.SIGN,
)
_WITHOUT = ("points", "pattern", "cycles", "overshoot_percent")
_GIVEN: dict[str, Any] = {"kind": "loads", "start": "{value}", "up": "{value}"}
_CORNERS: dict[str, Any] = {**_GIVEN, "again": "corner_base", "points": "corners", "channel": 1}
_CORNER_RUNS = (
    LoadRun(id="corners", title="Corners as found", role="found", before=True, **_CORNERS),
    LoadRun(id="corners_left", title="Corners as left", role="left", **_CORNERS),
)


def _runs(points: Points, found: str, left: str) -> tuple[LoadRun, ...]:
    given = {**_GIVEN, "again": "base", "points": points}
    return (
        LoadRun(id="as_found", title=found, role="found", before=True, **given),
        LoadRun(id="as_left", title=left, role="left", **given),
    )


_LOADS = ParameterSpec(id="loads", label="Loads by substitution", default="3", least="2", most="20")
_CREEP = ParameterSpec(
    id="creep_minutes", label="Held for", default="10", unit="min", least="1", most="120"
)
_CORNER_TEST = limits.yes_or_no("corner_test", "Corner test", "yes")
CORNERS_AGAIN_STEP = _capture(
    "corners_left", "left", "Corners again", "The corners once more.", only_if=CORNERS_AGAIN
)


def _steps(how: str, set_by: Step, corners: bool) -> tuple[Step, ...]:
    return (
        parts.kit(KitRole(id=ROLE, label="Set of weights", quantity=WEIGHTS), names="weights"),
        parts.OPERATOR,
        parts.BYPASS,
        NO_DISCHARGE,
        parts.IDENTITY,
        SERVICE,
        FOUND_SETTINGS,
        parts.WARM_UP,
        EMPTY,
        _capture("as_found", "found", "Loads as found", how),
        *((FIRST_CORNERS,) if corners else ()),
        TELL,
        parts.JUDGE,
        ZERO,
        set_by,
        READ_BACK,
        _capture("as_left", "left", "Loads as left", how, only_if=ADJUSTING),
        *((CORNERS_AGAIN_STEP,) if corners else ()),
        LEFT_JUDGE,
        BACKUP,
        *BACK,
    )


def _method(id: str, title: str, called: str, fits: str, **own: Any) -> Method:
    return Method(
        id=id,
        version=1,
        title=title,
        called=called,
        fits=fits,
        runs=own["runs"],
        steps=own["steps"],
        parameters=limits.parameters(
            *own.get("parameters", ()),
            without=_WITHOUT,
            interval_days="365",
            stable_band_percent="0.02",
            stable_dwell_s="5",
        ),
        sources="Weights: OIML R 111-1. Uncertainty: JCGM 100, EURAMET cg-18. Decision: JCGM 106, "
        "ILAC-G8.",
    )


UP_AND_DOWN = "Weights up and down, gently."
BY_WEIGHTS = _method(
    "loadcell_weights",
    "Vessel on load cells, weights up and down",
    "weights up and down",
    "As many weights as can be hung: up, held, down, and over each corner.",
    runs=(*_runs("up_down", "As found", "As left"), *_CORNER_RUNS),
    steps=_steps(UP_AND_DOWN, SPAN, corners=True),
    parameters=(_CREEP, _CORNER_TEST),
)
BY_SUBSTITUTION = _method(
    "loadcell_substitution",
    "Vessel on load cells, substitution load",
    "substitution load",
    "Few weights and material in turn, up to the capacity.",
    runs=_runs("substitution", "As found, substitution", "As left, substitution"),
    steps=_steps("Weights and material in turn.", SPAN, corners=False),
    parameters=(_LOADS,),
)
BY_THEORY = _method(
    "loadcell_theoretical",
    "Vessel on load cells, by data and then checked",
    "by data, checked",
    "The span from the data of the cells; one weight checks it.",
    runs=_runs("short", "Check as found", "Check as left"),
    steps=_steps(UP_AND_DOWN, BY_DATA, corners=False),
)
