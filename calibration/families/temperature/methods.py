"""Temperature: sensors in a block, transmitters with a simulated sensor, and the whole loop."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method.method import Field, Item, KitRole, Method, Step
from calibration.families.shared import limits, parts
from calibration.families.shared.runs import found_run, left_run

PROBE = KitRole(id="probe", label="Reference probe with its readout", quantity="temperature")
BLOCK = KitRole(id="block", label="Dry block or bath", quantity="heat_source", alone=True)
CALIBRATOR = KitRole(
    id="calibrator", label="Calibrator that simulates the sensor", quantity="sensor_signal"
)
HOT = (
    "Blocks, wells and sensors burn skin and melt cable: let them cool, use gloves, keep the "
    "block clear of anything that burns."
)
_HEATED = {
    "kind": "sensor",
    "start": "Bring the block to {value} and wait",
    "up": "Bring the block up to {value} and wait",
    "down": "Let the block cool to {value} and wait",
}
IN_BLOCK = (found_run(**_HEATED), left_run(**_HEATED))
_HELD = "Simulate {value} and hold"
SIMULATED = tuple(
    run(kind="sensor", start=_HELD, up=_HELD, down=_HELD) for run in (found_run, left_run)
)
TAKE_OUT = Step(
    id="isolate",
    stage="safe",
    kind="checklist",
    title="Take the sensor out",
    instruction="Take the sensor out of its well, and leave the well shut to the process.",
    why="The block must be the only heat on the sensor.",
    caution=HOT + " A sensor without a well opens the process: never without isolation.",
    items=(
        Item(id="well", label="The well stays in and is tight"),
        Item(id="cool", label="Sensor is cool enough to handle"),
        Item(id="tagged", label="Wires tagged before they come off"),
    ),
)
JUNCTION = Step(
    id="junction",
    stage="identify",
    kind="record",
    part="environment",
    title="Measure the reference junction",
    instruction="Measure the temperature where sensor wire meets copper, or the room for a "
    "platinum sensor.",
    why="A thermocouple's emf counts from there; a platinum sensor loses heat towards it.",
    fields=(
        Field(
            id="temperature",
            barred="What a thermocouple gives hangs on it.",
            label="Junction or room temperature",
            kind="number",
            unit="°C",
        ),
    ),
)
INSERT = parts.connect(
    "Put probe and sensor into the block, equally deep, and connect the meter.",
    "Both must feel the same temperature: same depth, sleeves that fit, no draught.",
    HOT,
    label="Sensor in the block",
)
SETTLE = Step(
    id="warm_up",
    stage="identify",
    kind="timer",
    title="Let meter and readout warm up",
    instruction="Leave meter and readout powered until they have warmed up.",
    why="Their own drift would count as an error of the sensor.",
    minutes="warm_up_minutes",
    often=("Meter and readout on for hours",),
)
OUT_OF_BLOCK = parts.disconnect(
    "Let the block cool, take the sensor out and disconnect the meter.", HOT
)
BACK_IN_WELL = parts.restore(
    Item(id="well", label="Sensor back in its well, touching the bottom"),
    Item(id="wires", label="Wires back as tagged, polarity checked"),
    parts.COVERS,
)
_SENSOR_PARAMETERS = limits.parameters(
    without=("school", "adjust_to_share", "overshoot_percent"),
    points="3",
    pattern="up",
    stable_band_percent="0.02",
    stable_dwell_s="60",
    warm_up_minutes="15",
    interval_days="365",
)

TEMPERATURE_SENSOR = Method(
    id="temperature_sensor",
    version=1,
    title="Temperature sensor in a dry block or bath",
    called="in a block",
    fits="A platinum sensor or a thermocouple by itself, read in ohm or millivolt.",
    sets=False,
    runs=IN_BLOCK,
    steps=(
        parts.kit(PROBE, BLOCK, parts.METER, names="probe, block and meter"),
        parts.OPERATOR,
        parts.BYPASS,
        TAKE_OUT,
        parts.IDENTITY,
        INSERT,
        JUNCTION,
        SETTLE,
        parts.as_found("Do not touch the block: it is hot. Never leave it near what burns."),
        parts.JUDGE,
        OUT_OF_BLOCK,
        BACK_IN_WELL,
        parts.UNBYPASS,
        parts.SIGN,
    ),
    parameters=_SENSOR_PARAMETERS,
    sources=parts.SOURCES + " Sensors: IEC 60751, IEC 60584-1, ITS-90 reference functions.",
)

#: Meters that show degrees compensate the junction by themselves; the sensor is read through them.
IN_DEGREES = "in °C: the meter compensates by itself"
BARE = "in Ω or mV"
READ_AS = Field(
    id="read_as",
    barred="What is right hangs on how it is read.",
    label="How is the sensor read?",
    choices=(BARE, IN_DEGREES),
)
HOW_READ = Step(
    id="how_read",
    stage="plan",
    kind="record",
    part="environment",
    title="How the sensor is read",
    instruction="Say what the meter shows: ohm or millivolt, or degrees.",
    why="A junction that the meter compensates must not be counted once more.",
    fields=(READ_AS,),
)
#: As it was: nothing can be put right in the visit. For jobs that began with it.
TEMPERATURE_SENSOR_1 = TEMPERATURE_SENSOR
TEMPERATURE_SENSOR = replace(
    TEMPERATURE_SENSOR_1,
    version=2,
    fits="A platinum sensor or a thermocouple by itself, read in ohm, millivolt or degrees.",
    steps=(
        HOW_READ,
        *TEMPERATURE_SENSOR_1.steps[: TEMPERATURE_SENSOR_1.steps.index(parts.JUDGE) + 1],
        *(step for step in parts.adjust() if step.kind != "adjust"),
        OUT_OF_BLOCK,
        BACK_IN_WELL,
        parts.UNBYPASS,
        parts.SIGN,
    ),
)

DISCONNECT_WIRES = Step(
    id="isolate",
    stage="safe",
    kind="checklist",
    title="Take the sensor wires off",
    instruction="Tag the wires of the sensor, take them off and put the calibrator in their place.",
    why="The calibrator must be the only sensor on the transmitter.",
    caution="Open a cover in a hazardous area only as permit and area rules allow.",
    items=(
        Item(id="tagged", label="Wires tagged before they come off"),
        Item(id="area", label="Cover opened as permit and area rules allow"),
    ),
)
_WIRED = parts.connect(
    "Connect the calibrator in place of the sensor and the meter at the output.",
    "Thermocouples: wire of the sensor's own type up to the calibrator.",
    "Open a cover or a loop in a hazardous area only as permit and area rules allow.",
    label="Calibrator connected",
)
_TYPE = Field(
    id="sensor",
    label="Sensor type set in the device",
    must_match="sensor",
    governs=True,
    question="The record says {expected}. A transmitter set to another sensor reads wrong "
    "everywhere. Read right?",
)

TEMPERATURE_TRANSMITTER_1 = Method(
    id="temperature_transmitter",
    version=1,
    title="Temperature transmitter with a simulated sensor",
    called="simulated sensor",
    fits="A transmitter by itself: a calibrator takes the place of the sensor.",
    runs=SIMULATED,
    steps=(
        parts.kit(CALIBRATOR, parts.METER, names="calibrator and meter"),
        parts.OPERATOR,
        parts.BYPASS,
        DISCONNECT_WIRES,
        parts.IDENTITY,
        parts.settings(
            parts.LOWER, parts.UPPER, _TYPE, parts.DAMPING, what="range and sensor type"
        ),
        parts.STATE,
        _WIRED,
        JUNCTION,
        parts.WARM_UP,
        parts.DAMPING_OFF,
        parts.as_found(),
        parts.JUDGE,
        parts.WRITE_BACK,
        *parts.adjust("The loop current moves with every trim. Only with the loop in manual."),
        parts.disconnect("Take calibrator and meter off; put the wires back as tagged."),
        parts.DAMPING_BACK,
        parts.restore(
            Item(id="wires", label="Wires back as tagged, polarity checked"),
            parts.COVERS,
            parts.SETTINGS,
        ),
        parts.UNBYPASS,
        parts.SIGN,
    ),
    parameters=limits.parameters(),
    sources=parts.SOURCES + " Sensors: IEC 60751, IEC 60584-1, ITS-90 reference functions.",
)

TEMPERATURE_TRANSMITTER = parts.plainer(TEMPERATURE_TRANSMITTER_1)

TEMPERATURE_LOOP_1 = Method(
    id="temperature_loop",
    version=1,
    title="Temperature loop: sensor and transmitter together in a block",
    called="loop in a block",
    fits="Sensor and transmitter judged together, from the heat to the output.",
    runs=IN_BLOCK,
    steps=(
        parts.kit(PROBE, BLOCK, parts.METER, names="probe, block and meter"),
        parts.OPERATOR,
        parts.BYPASS,
        TAKE_OUT,
        parts.IDENTITY,
        parts.settings(parts.LOWER, parts.UPPER, _TYPE, what="range and sensor type"),
        parts.STATE,
        INSERT,
        JUNCTION,
        SETTLE,
        parts.as_found("Do not touch the block: it is hot. Never leave it near what burns."),
        parts.JUDGE,
        parts.WRITE_BACK,
        *parts.adjust("The loop current moves with every trim. Only with the loop in manual."),
        OUT_OF_BLOCK,
        BACK_IN_WELL,
        parts.UNBYPASS,
        parts.SIGN,
    ),
    parameters=limits.parameters(
        points="3", pattern="up", stable_band_percent="0.05", stable_dwell_s="60"
    ),
    sources=parts.SOURCES + " Sensors: IEC 60751, IEC 60584-1, ITS-90 reference functions.",
)
TEMPERATURE_LOOP = parts.plainer(TEMPERATURE_LOOP_1)
