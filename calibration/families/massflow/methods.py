"""Two methods: the zero is verified, and set only when it fails; the meter is proved."""

from __future__ import annotations

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
from calibration.families.massflow.facts import FLOWING, QUANTITY
from calibration.families.massflow.shape import wanted
from calibration.families.massflow.words import BLOCKED, REFERENCE, ZEROING
from calibration.families.shared import differential, limits, parts
from calibration.families.shared.runs import found_run, left_run
from calibration.families.shared.setting import KIND as SET_AT

TRAPPED = (
    "Liquid trapped between two valves expands when it warms and can burst a line: keep the time "
    "short, watch the pressure. Hot or harmful liquid: as permit and site procedure say."
)
STAND = Step(
    id="line_stands",
    stage="plan",
    kind="record",
    part="",
    for_round=True,
    title="May the line stand?",
    instruction="Agree with operations how long the line may stand with the meter full.",
    why="A zero is only worth something when nothing flows and the meter is as in the process.",
    fields=(Field(id="minutes", label="The line may stand for", kind="number", unit="min"),),
)
FOUND_SETTINGS = parts.settings(
    Field(id="stored_zero", label="Stored zero found", kind="number"),
    Field(id="cut_off", label="Low-flow cut-off found", kind="number", unit="kg/h"),
    what="stored zero and low-flow cut-off",
)
IN_FLOW = Step(
    id=FLOWING,
    stage="identify",
    kind="record",
    part="environment",
    title="While it still flows",
    instruction="Read drive gain and density in flow, at process temperature.",
    why="Gas, solids and an empty part show as a change of both once it stands.",
    fields=(
        Field(id="drive_gain", label="Drive gain", kind="number", unit="%"),
        Field(id="density", label="Density shown", kind="number", unit="kg/m³"),
        Field(
            id="temperature",
            label="Process temperature",
            kind="number",
            unit="°C",
            required=False,
        ),
    ),
)
BLOCK = Step(
    id=BLOCKED,
    stage="found",
    kind="put_on",
    title="Block it in",
    button="It is blocked in",
    instruction="Shut the valve downstream first, then the one upstream; the meter stays full.",
    why="With one valve alone it still sees what leaks and what surges.",
    caution=TRAPPED,
    on_label="Meter blocked in",
    order="block",
)
STILL = Step(
    id="nothing_flows",
    stage="found",
    kind="checklist",
    title="Does it stand?",
    instruction="Prove that nothing flows and that the zero can be seen.",
    why="A cut-off shows 0 whatever the zero is; a zero taken without these is worth nothing.",
    anew="round",
    order="live",
    items=(
        Item(id="proof", label="Both valves shut, proven: pressure falls or the tell-tale is dry"),
        Item(id="full", label="Full, at process temperature and pressure"),
        Item(id="alarms", label="No severe alarm", must=True),
        Item(id="live", label="Live zero shown: cut-off and one-way output out of the way"),
    ),
)
ZERO = Step(
    id=ZEROING,
    stage="adjust",
    kind=SET_AT,
    title="Zero it",
    instruction="Start the meter's own zeroing, and wait until it says that it is done.",
    why="Only under the conditions of the verification, and only once other causes are out.",
    caution="The stored zero of the maker is lost: it is written down above.",
    only_if=TRIMMING,
    order="zero",
)
STORED = Step(
    id="zero_stored",
    stage="left",
    kind="record",
    title="The new stored zero",
    instruction="Read the stored zero again, in the meter's own unit.",
    why="Its step says what the new zero is worth, and comes back when it is lost.",
    fields=(Field(id="stored_now", label="Stored zero now", kind="number"),),
    only_if=ADJUSTING,
    anew="round",
)
OPEN = Step(
    id="meter_open",
    stage="return",
    kind="take_off",
    title="Open it again",
    button="It is open again",
    instruction="Open upstream first, slowly, then downstream.",
    why="A hammer bends tubes and moves the zero that was just verified.",
    caution="Say it to operations before the first turn.",
    ends=BLOCKED,
    order="open",
)
BACK = Step(
    id="flow_back",
    stage="return",
    kind="record",
    part="environment",
    title="It measures again",
    instruction="Flow on, cut-off as found: read what it shows.",
    why="A cut-off left out or a valve half shut shows here.",
    fields=(Field(id="flow_shown", label="Flow shown", kind="number", unit="kg/h"),),
)
LEFT_JUDGE = Step(
    id="left_judge",
    stage="left",
    kind="decide",
    judges="left",
    title="Decision as left",
    instruction="It is still outside: set it again, or stop.",
    why="A meter outside its limit goes back only with eyes open.",
    only_if=LEFT_OUTSIDE,
)
TELL = differential.step("Setting hides a fault that it does not cure.", wanted)


def _read(id: str, stage: str, title: str, instruction: str, **more: object) -> Step:
    return Step(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="capture",
        title=title,
        instruction=instruction,
        why="Read before it is touched: without it nobody knows what was wrong."
        if id == "as_found"
        else "Only the same reading proves what was set.",
        run=id,
        **more,  # type: ignore[arg-type]
    )


_WITHOUT = ("points", "pattern", "cycles", "overshoot_percent")
_ZERO_PARAMETERS = limits.parameters(
    ParameterSpec(
        id="zero_attempts", label="Zero it at most", default="3", unit="times", least="1", most="9"
    ),
    without=_WITHOUT,
    warm_up_minutes="30",
    interval_days="180",
    stable_band_percent="1",
    stable_dwell_s="5",
    adjust_share="100",
)
VERIFY_ZERO = Method(
    id="massflow_zero",
    version=1,
    title="Verify the zero of a mass flow meter",
    called="zero",
    fits="The zero is verified, and set only when it fails and nothing else is the cause.",
    paper="Verification certificate",
    runs=(
        found_run(title="Zero as found", kind="live_zero"),
        left_run(title="Zero as left", kind="live_zero"),
    ),
    steps=(
        STAND,
        parts.OPERATOR,
        parts.BYPASS,
        parts.IDENTITY,
        parts.WARM_UP,
        FOUND_SETTINGS,
        IN_FLOW,
        BLOCK,
        STILL,
        _read("as_found", "found", "Zero as found", "Read the live zero."),
        TELL,
        parts.JUDGE,
        ZERO,
        STORED,
        _read("as_left", "left", "Zero as left", "Read the live zero again.", only_if=ADJUSTING),
        LEFT_JUDGE,
        OPEN,
        BACK,
        parts.UNBYPASS,
        parts.restore(
            Item(id="cut_off", label="Low-flow cut-off and output as found"), parts.VALVES
        ),
        parts.SIGN,
    ),
    parameters=_ZERO_PARAMETERS,
    sources="Zero stability: ISO 10790. Uncertainty: JCGM 100. Decision: JCGM 106, ILAC-G8.",
)
READY = Step(
    id="ready_to_prove",
    stage="found",
    kind="checklist",
    title="Ready to prove",
    instruction="Bring the line into the state in which every run begins and ends.",
    why="What passes a valve is counted by one of the two only.",
    caution="Filling and draining move weight and liquid: stand clear, as the site procedure says.",
    anew="round",
    order="batch",
    items=(
        Item(id="zero", label="Zero of the meter verified, nothing flows at rest"),
        Item(id="tight", label="Valves between meter and reference tight, lines full of liquid"),
        Item(id="tare", label="Reference at rest and tared"),
    ),
)
FACTOR = Step(
    id="set_factor",
    stage="adjust",
    kind="set",
    title="Set the meter factor",
    instruction="Write the factor that the runs give, and read it back.",
    why="It is the mean of all runs, put right for the air.",
    caution="The flow shown moves with it. Only with the loop in manual.",
    only_if=TRIMMING,
    sets=(SetItem(id="meter_factor", label="Meter factor", to="proved", adjusts=True),),
)
PROVE = Method(
    id="massflow_prove",
    version=1,
    title="Prove a mass flow meter against a quantity",
    called="proving",
    fits="Runs against a scale or another meter; the factor is set only when it must be.",
    runs=(
        found_run(title="As found", kind="proved_runs"),
        left_run(title="As left", kind="proved_runs"),
    ),
    steps=(
        parts.kit(
            KitRole(id=REFERENCE, label="Scale or master meter", quantity=QUANTITY),
            names="what the quantity is known by",
        ),
        parts.OPERATOR,
        parts.BYPASS,
        parts.IDENTITY,
        parts.WARM_UP,
        parts.settings(
            Field(
                id="meter_factor",
                barred="The new factor is worked out from it.",
                label="Meter factor found",
                kind="number",
            ),
            what="the meter factor",
        ),
        READY,
        _read("as_found", "found", "Runs as found", "Take run after run at one flow."),
        TELL,
        parts.JUDGE,
        FACTOR,
        _read("as_left", "left", "Runs as left", "Take the runs again.", only_if=ADJUSTING),
        LEFT_JUDGE,
        BACK,
        parts.UNBYPASS,
        parts.restore(Item(id="lines", label="Lines and reference back as found"), parts.VALVES),
        parts.SIGN,
    ),
    parameters=limits.parameters(
        ParameterSpec(id="runs", label="Runs", default="5", least="3", most="10"),
        ParameterSpec(
            id="repeat_percent",
            label="All runs within",
            default="0.05",
            unit="%",
            least="0.005",
            most="5",
        ),
        without=_WITHOUT,
        interval_days="365",
        stable_band_percent="0.05",
        stable_dwell_s="5",
        adjust_share="100",
    ),
    sources="Buoyancy: OIML D 28. Range to standard deviation: NIST/SEMATECH e-Handbook. "
    "Uncertainty: JCGM 100. Decision: JCGM 106, ILAC-G8.",
)
