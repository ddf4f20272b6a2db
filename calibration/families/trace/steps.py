"""The steps of a trace oxygen analyzer, one by one."""

from __future__ import annotations

from calibration.engine.method.conditions import ADJUSTING, LEFT_OUTSIDE
from calibration.engine.method.method import Field, Item, KitRole, Step
from calibration.families.shared import parts
from calibration.families.trace.conditions import ALIKE, BLEED_DUE
from calibration.families.trace.facts import PRESSURE_REGULATOR, SPAN_GAS
from calibration.families.trace.words import (
    APART,
    BACK,
    BEFORE,
    FITTED,
    GAS,
    MOUNTED,
    OUTLET,
    REGULATOR,
    Bleeding,
    SettingSpan,
)

SMOTHERS = (
    "Nitrogen smothers without warning: vent outdoors or with the room well aired, as the site "
    "procedure says. Secure the cylinder."
)
KIT = (
    KitRole(id=GAS, label="Span gas, oxygen in nitrogen", quantity=SPAN_GAS),
    KitRole(id=REGULATOR, label="Regulator on it", quantity=PRESSURE_REGULATOR),
    KitRole(
        id=parts.METER.id,
        label=parts.METER.label,
        quantity=parts.METER.quantity,
        instead="Read it on the display",
    ),
)
TUBING = Step(
    id="tubing",
    stage="plan",
    kind="checklist",
    title="Look at the way to the span port",
    instruction="Tubing, fittings and vent, before anything is opened.",
    why="Air gets through plastic and past a loose fitting, and counts as oxygen.",
    items=(
        Item(id="metal", label="Metal tubing from the regulator to the span port"),
        Item(id="vent", label="Outlet of the sensor free, not pushed into a closed line"),
    ),
)
PROCESS_BEFORE = Step(
    id=BEFORE,
    stage="safe",
    kind="record",
    part="environment",
    title="What it reads in the process",
    instruction="Before it is touched: the value shown, and the flow through the sensor.",
    why="Alarms come back only when it reads so again.",
    fields=(
        Field(
            id="process_shown",
            barred="What is seen in the gas is compared with it.",
            label="Process before",
            kind="number",
            unit="ppm",
        ),
        Field(
            id="flow",
            barred="The span gas is set to the same flow.",
            label="Flow through the sensor",
            kind="number",
            unit="L/min",
        ),
        Field(
            id="pressure_hpa",
            label="Pressure of the air",
            kind="number",
            unit="hPa",
            required=False,
        ),
    ),
)
STATE_OF_REGULATOR = Step(
    id=MOUNTED,
    stage="identify",
    kind="record",
    title="Look at the regulator",
    instruction="Read both gauges before anything is opened.",
    why="What keeps a regulator clean is its outlet valve, shut with pressure inside. One that "
    "stands at zero, or was taken off, has air in it.",
    fields=(
        Field(
            id="gauge_found",
            barred="How often it is bled is worked out from it.",
            label="Low side as found, by its gauge",
            kind="number",
            unit="bar",
            hint="0 means that air came in",
        ),
        Field(
            id="high_bar",
            barred="How often it is bled is worked out from it.",
            label="Cylinder pressure, by its gauge",
            kind="number",
            unit="bar",
        ),
    ),
)
BLEED = Bleeding(
    id="bleed",
    stage="identify",
    kind="bleeding",
    title="Bleed the regulator",
    instruction="High side first: fill to cylinder pressure, crack the nut at the cylinder, "
    "retighten at once. Then the low side: fill it, vent at the half-tight fitting of the span "
    "port, tighten during the last vent.",
    why="Flushing leaves air in dead corners; filling and venting thins it out each time.",
    caution="High pressure: crack a nut only a little, with goggles, pointed at nobody. "
    + SMOTHERS,
    only_if=BLEED_DUE,
    if_not="It cannot be bled so often here",
)
HOLD = Step(
    id="hold",
    stage="found",
    kind="put_on",
    title="Hold the alarms off",
    button="Alarms are held off",
    instruction="Have the operator told, then hold off the alarms and trips of this value, just "
    "before the valve is turned.",
    why="Span gas would look like air in the process. The device ends the hold-off by itself.",
    caution="While it is held off nobody is warned by this analyzer.",
    on_label="Alarms held off",
    on_kind="bypass",
    if_not="Nothing is to be bypassed here",
    often=("no trip and no alarm hangs on it", "it is out of service"),
)
ON_SPAN = Step(
    id="on_span",
    stage="found",
    kind="put_on",
    title="Valve to span gas",
    button="Valve is on span gas",
    instruction="Turn the valve to span gas and set the flow to that of the process.",
    why="At another flow a leak weighs otherwise, and it reads otherwise.",
    caution=SMOTHERS,
    on_label="Valve on span gas",
    order="span",
    anew="round",
)
AS_FOUND = Step(
    id="as_found",
    stage="found",
    kind="capture",
    title="As found",
    instruction="Wait until it is steady, up to five minutes: what it shows then is as found.",
    why="A reading that still falls is air in the regulator, or a sensor that saw air.",
    run="as_found",
)
TELL_APART = Step(
    id=APART,
    stage="found",
    kind="record",
    title="Tell the causes apart",
    instruction="Several causes look alike. One more measurement tells.",
    why="A span set while air comes in makes the process read low from then on.",
    only_if=ALIKE,
)
SET = SettingSpan(
    id="set_span",
    stage="adjust",
    kind="span_setting",
    title="Set the span",
    instruction="Set it to the value of the gas, and confirm within the device's own time.",
    why="A moment missed is no fault: nothing was set, set it again.",
    only_if=ADJUSTING,
)
AS_LEFT = Step(
    id="as_left",
    stage="left",
    kind="capture",
    title="As left",
    instruction="Let it run on in span gas for a minute and read it again.",
    why="Only a reading after it was set proves it.",
    run="as_left",
    only_if=ADJUSTING,
)
LEFT_JUDGE = Step(
    id="left_judge",
    stage="left",
    kind="decide",
    judges="left",
    title="Decision as left",
    instruction="It is still outside: set it again, or stop.",
    why="An analyzer outside its limits goes back only with eyes open.",
    only_if=LEFT_OUTSIDE,
)
OFF_SPAN = Step(
    id="off_span",
    stage="return",
    kind="take_off",
    title="Valve back to the process",
    button="Valve is back to the process",
    instruction="Turn the valve back to the process, and set its flow.",
    why="Left on span gas it would show a good process for ever.",
    ends="on_span",
    order="process",
)
SHUT = Step(
    id=OUTLET,
    stage="return",
    kind="record",
    title="Shut the outlet, with pressure inside",
    instruction="Shut the outlet valve of the regulator first, then the cylinder. Read the low "
    "gauge.",
    why="Pressure inside keeps the air out until the next time.",
    fields=(
        Field(id="left_bar", label="Left in the low side, by its gauge", kind="number", unit="bar"),
    ),
)
PROCESS_BACK = Step(
    id=BACK,
    stage="return",
    kind="record",
    part="environment",
    title="Wait until it is back",
    instruction="Read the process when it is down: alarms come back only then.",
    why="Alarms that come back too early trip the plant, and are held off for longer next time.",
    fields=(
        Field(
            id="process_shown",
            barred="What is seen in the gas is compared with it.",
            label="Process afterwards",
            kind="number",
            unit="ppm",
        ),
    ),
)
UNHOLD = Step(
    id="unhold",
    stage="return",
    kind="take_off",
    title="Alarms on again",
    button="Alarms are on again",
    instruction="Have the operator look at the value, and end the hold-off.",
    why="An analyzer left held off is the worst mistake of all.",
    caution="Only when the reading is back.",
    ends="hold",
)
RESTORE = parts.restore(
    Item(id="fittings", label="Fittings tight, no leak"),
    Item(id="cylinder", label="Cylinder shut and secured"),
    parts.COVERS,
)
SELECTOR = Step(
    id="selector",
    stage="safe",
    kind="checklist",
    title="Ready for the new sensor",
    instruction="Everything at hand, before the bag is opened.",
    why="A new sensor counts every second in air.",
    items=(
        Item(id="off", label="Selector off"),
        Item(id="old", label="Old sensor out, thread and seal clean"),
        Item(id="flow", label="Sample flowing, twice the usual flow"),
    ),
    order="new_sensor",
)
FIT = Step(
    id=FITTED,
    stage="identify",
    kind="record",
    title="Fit the new sensor",
    instruction="Open the bag last, take the clip off, fit it at once; selector on.",
    why="Minutes in air take hours to come down.",
    caution="The electrolyte burns skin and eyes: gloves and goggles, and a leaking one goes back "
    "into its bag.",
    fields=(
        Field(id="sensor_serial", label="Number of the new sensor"),
        Field(id="air_seconds", label="Time in air", kind="number", unit="s"),
    ),
)
DOWN = Step(
    id="come_down",
    stage="identify",
    kind="capture",
    title="Let it come down",
    instruction="Watch it come down in the process, beside what is expected.",
    why="It can only reach what the process is; span is set after it, not before.",
    run="come_down",
)
