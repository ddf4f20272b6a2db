"""pH: calibrate with buffers, and check only."""

from __future__ import annotations

from typing import Any

from calibration.engine.method.conditions import ADJUSTING, LEFT_OUTSIDE, REPLACING
from calibration.engine.method.method import Field, Item, Method, ParameterSpec, Step
from calibration.families.ph.conditions import ALIKE, COUNTED_WRONG
from calibration.families.ph.kit import KIT
from calibration.families.ph.ledger import REPORTED as STEP_REPORTED
from calibration.families.ph.words import NEAR, SIDE, THIRD, BufferRun
from calibration.families.shared import limits, parts

ACID = (
    "Acid on residue of sulfide, cyanide or hypochlorite makes poisonous gas: know what was "
    "measured before acid comes near it. Goggles, gloves and the safety sheet of the cleaner."
)
WET = (
    "The sample may be hot, caustic or under pressure: let it cool and drain to a safe place, as "
    "permit and site procedure say."
)
BOTTLES = Step(
    id="bottles",
    stage="plan",
    kind="checklist",
    title="Look at the bottles",
    instruction="Before anything is opened: value, set and date of every bottle.",
    why="The wrong set passes every limit of slope and offset, and makes the process read wrong.",
    items=(
        Item(id="set", label="Set on the bottles is the one programmed in the analyzer"),
        Item(id="fresh", label="In date, closed, not cloudy"),
    ),
)
BEFORE = Step(
    id="process_before",
    stage="safe",
    kind="record",
    title="What it reads in the process",
    instruction="Before it is touched: the value shown, and a grab sample at one temperature.",
    why="Right in buffers and wrong in the process is found only here.",
    fields=(
        Field(id="process_shown", label="Process as shown", kind="number", unit="pH"),
        Field(id="grab", label="Grab sample", kind="number", unit="pH", required=False),
    ),
)
SAMPLE_OFF = Step(
    id="sample_off",
    stage="safe",
    kind="checklist",
    title="Stop the sample and drain",
    instruction="Divert or stop the sample, let the pressure off, drain the vessel.",
    why="The electrode is about to be taken out.",
    caution=WET,
    items=(
        Item(id="stopped", label="Sample stopped or diverted"),
        Item(id="drained", label="No pressure, drained, cool enough to touch"),
    ),
)
LIFT = Step(
    id="lift",
    stage="safe",
    kind="put_on",
    title="Take the electrode out",
    button="Electrode is out",
    instruction="Take it out; hold the loose sealing ring, it falls into the vessel.",
    why="From here on the analyzer does not see the process.",
    caution=WET,
    on_label="Electrode out of the process",
)


def _poured(id: str, stage: str, title: str, again: bool) -> Step:
    """Return the step that writes down how warm the portions are."""
    return Step(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="record",
        title=title,
        instruction="Pour two portions of each buffer; thermometer into one, electrode rinsed.",
        why="A buffer is worth what its table says at its own temperature.",
        fields=(
            Field(
                id="buffer_c",
                barred="What a buffer is worth hangs on its temperature.",
                label="Thermometer in the buffer",
                kind="number",
                unit="°C",
            ),
            Field(
                id="shown_c",
                label="Temperature that the analyzer shows",
                kind="number",
                unit="°C",
                required=False,
            ),
        ),
        only_if=ADJUSTING if again else None,
    )


FOUND_LAST = Step(
    id="last_found",
    stage="identify",
    kind="record",
    title="Read what the analyzer counts with",
    instruction="Slope and offset of its last calibration, before anything is changed.",
    why="They are gone with the next calibration.",
    fields=(
        Field(id="slope_found", label="Slope found", kind="number", unit="%"),
        Field(id="offset_found", label="Offset found", kind="number", unit="mV"),
        Field(
            id="buffer_set",
            label="Set programmed, where its menu shows it",
            must_match="buffer_set",
            governs=True,
            required=False,
            question="On record is the {expected} set. The wrong set passes every limit. Read "
            "right?",
        ),
    ),
)
AS_FOUND = Step(
    id="as_found",
    stage="found",
    kind="capture",
    title="As found, before cleaning",
    instruction="Rinse only: not wiped, not cleaned. First near 7, then the other side.",
    why="What cleaning takes away nobody can find afterwards.",
    run="as_found",
)
APART = Step(
    id="apart",
    stage="found",
    kind="record",
    title="Tell the causes apart",
    instruction="Two causes look alike. One more measurement tells which it is.",
    why="Calibrating hides a fault that it does not cure.",
    only_if=ALIKE,
    if_not=parts.CANNOT_MEASURE,
)
CLEAN = Step(
    id="clean",
    stage="adjust",
    kind="checklist",
    title="Clean the electrode",
    instruction="Rinse; where the site allows it, a soak in dilute acid. Pat dry, never wipe. "
    "A new electrode is cleaned, too.",
    why="Calibrated through a coating, it is wrong as soon as the coating is gone.",
    caution=ACID,
    items=(
        Item(id="known", label="What was measured is known; cleaner allowed for it"),
        Item(id="rinsed", label="Rinsed, cleaned, rinsed again, patted dry"),
    ),
    order="ph_clean",
    only_if=ADJUSTING,
)
REPLACED = Step(
    id="replaced",
    stage="adjust",
    kind="checklist",
    title="Fit the new electrode",
    instruction="Fit it, write its number on the card of the loop, take the cap off.",
    why="Its age begins today.",
    items=(Item(id="fitted", label="New electrode fitted, cap off, no bubble at the glass"),),
    order="ph_replace",
    only_if=REPLACING,
)
PROGRAM = Step(
    id="program",
    stage="adjust",
    kind="checklist",
    title="Program the set that is poured",
    instruction="Compare the set programmed with the bottles, and put it right in the analyzer.",
    why="Calibrated with another set, it reads wrong as before, and no limit sees it.",
    items=(
        Item(id="compared", label="Set in the analyzer's menu read and compared"),
        Item(id="same", label="Analyzer and bottles now count by one set"),
    ),
    order="ph_program",
    only_if=COUNTED_WRONG,
)
STAND = Step(
    id="stand",
    stage="adjust",
    kind="timer",
    title="Let it stand in buffer",
    instruction="After acid the junction drifts: let it stand in the buffer near 7.",
    why="Taken at once, the drift of the junction becomes the offset.",
    minutes="stand_minutes",
    only_if=ADJUSTING,
)
CALIBRATED = Step(
    id="calibrated",
    stage="adjust",
    kind="capture",
    title="Calibrate",
    instruction="In fresh portions: near 7 first, then the other side. Read, then let it take it.",
    why="Near 7 sets the offset, the other one the slope.",
    run="calibrated",
    may_refuse=True,
    only_if=ADJUSTING,
)
REPORTED = Step(
    id=STEP_REPORTED,
    may_refuse=True,
    stage="adjust",
    kind="record",
    title="Read what the analyzer reports",
    instruction="Slope and offset that it worked out for itself.",
    why="From the same millivolts it must come to the slope that the bottles give. Another one "
    "means another set, and no limit sees that.",
    fields=(
        Field(id="slope", label="Slope reported", kind="number", unit="%"),
        Field(id="offset", label="Offset reported", kind="number", unit="mV"),
    ),
    only_if=ADJUSTING,
)
AS_LEFT = Step(
    id="as_left",
    stage="left",
    kind="capture",
    title="As left",
    instruction="In fresh portions again; the third buffer first, where there is one.",
    why="Only a reading after the calibration proves it.",
    run="as_left",
    only_if=ADJUSTING,
)
LEFT_JUDGE = Step(
    id="left_judge",
    stage="left",
    kind="decide",
    judges="left",
    title="Decision as left",
    instruction="It is still outside: calibrate again, or stop.",
    why="An analyzer outside its limits goes back only with eyes open.",
    only_if=LEFT_OUTSIDE,
)
BACK = Step(
    id="electrode_back",
    stage="return",
    kind="take_off",
    title="Put the electrode back",
    button="Electrode is back",
    instruction="Ring in its groove, electrode in, vessel full, flow on.",
    why="A ring left out leaks, an empty vessel dries the glass.",
    ends="lift",
    order="ph_process",
)
RESTORE = parts.restore(
    Item(id="ring", label="Sealing ring in, no leak"),
    Item(id="flow", label="Vessel full, flow as before"),
    Item(id="poured", label="Used portions thrown away, none poured back"),
    parts.COVERS,
)
COMPARE = Step(
    id="compare",
    stage="return",
    kind="record",
    title="Compare with a grab sample",
    instruction="When it is steady: the value shown and a grab sample, at one temperature.",
    why="Right in buffers is not yet right in the process.",
    fields=(
        Field(id="process_shown", label="Process as shown", kind="number", unit="pH"),
        Field(id="grab", label="Grab sample", kind="number", unit="pH"),
    ),
)


def _limits(*more: ParameterSpec) -> tuple[ParameterSpec, ...]:
    return limits.parameters(
        limits.yes_or_no("third_buffer", "Read a third buffer", "no"),
        ParameterSpec(
            id="found_buffers",
            label="As found in",
            default="both",
            kind="choice",
            choices=("both", "nearest"),
        ),
        ParameterSpec(id="slope_low_percent", label="Slope from", default="90", unit="%"),
        ParameterSpec(id="slope_high_percent", label="Slope to", default="103", unit="%"),
        ParameterSpec(id="offset_limit_mv", label="Offset to", default="30", unit="mV"),
        ParameterSpec(id="t90_limit_s", label="Time to 90 % at most", default="40", unit="s"),
        ParameterSpec(
            id="steady_mv_min", label="Millivolts steady within", default="1", unit="mV/min"
        ),
        ParameterSpec(
            id="compare_ph", label="Process and grab sample within", default="0.15", unit="pH"
        ),
        ParameterSpec(id="open_days", label="Buffer open at most", default="90", unit="d"),
        *more,
        without=("points", "pattern", "cycles", "overshoot_percent", "warm_up_minutes"),
        interval_days="30",
        stable_band_percent="0.1",
        stable_dwell_s="10",
    )


_RUN: dict[str, Any] = {"kind": "buffers", "up": "Into pH {value}", "start": "Into pH {value}"}
FOUND_RUN = BufferRun(
    id="as_found",
    title="As found",
    role="found",
    again="base",
    before=True,
    buffers=(NEAR, SIDE, THIRD),
    poured="poured",
    **_RUN,
)
SOURCES = (
    "Buffers: DIN 19266 and the labels of the bottles. Slope: Nernst equation, CODATA 2018. "
    "Uncertainty: JCGM 100. Decision: JCGM 106, ILAC-G8."
)
_FIRST = (
    parts.kit(*KIT, names="the buffers, the thermometer and the meter"),
    BOTTLES,
    parts.OPERATOR,
    parts.BYPASS,
    BEFORE,
    SAMPLE_OFF,
    parts.IDENTITY,
    LIFT,
)
_LAST = (BACK, RESTORE, COMPARE, parts.UNBYPASS, parts.SIGN)
PH_BUFFERS = Method(
    id="ph_buffers",
    version=1,
    title="pH, calibrate with buffers",
    called="buffers",
    fits="As found before cleaning, then cleaned and calibrated in two buffers where it is needed.",
    runs=(
        FOUND_RUN,
        BufferRun(
            id="as_left",
            title="As left",
            role="left",
            again="base",
            buffers=(NEAR, SIDE),
            poured="poured_again",
            proof=True,
            **_RUN,
        ),
        BufferRun(
            id="calibrated",
            title="Calibrating",
            role="left",
            again="calibrated_before",
            buffers=(NEAR, SIDE),
            poured="poured_again",
            accepts=True,
            **_RUN,
        ),
    ),
    steps=(
        *_FIRST,
        FOUND_LAST,
        _poured("poured", "found", "Pour the buffers", again=False),
        AS_FOUND,
        APART,
        parts.JUDGE,
        REPLACED,
        PROGRAM,
        CLEAN,
        STAND,
        _poured("poured_again", "adjust", "Pour fresh portions", again=True),
        CALIBRATED,
        REPORTED,
        AS_LEFT,
        LEFT_JUDGE,
        *_LAST,
    ),
    parameters=_limits(
        ParameterSpec(
            id="stand_minutes", label="Stand in buffer", default="5", unit="min", most="120"
        )
    ),
    sources=SOURCES,
)
PH_CHECK = Method(
    id="ph_check",
    version=1,
    title="pH, check only",
    fits="Read in buffers and compared with the process; nothing is changed.",
    sets=False,
    runs=(FOUND_RUN,),
    steps=(
        *_FIRST,
        _poured("poured", "found", "Pour the buffers", again=False),
        AS_FOUND,
        APART,
        parts.JUDGE,
        *_LAST,
    ),
    parameters=_limits(),
    sources=SOURCES,
)
