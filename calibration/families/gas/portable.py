"""Portable, pumped gas detectors: calibration, and receiving a new or repaired one."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method.conditions import ADJUSTING, UNLESS_ADJUSTING
from calibration.engine.method.method import Field, Item, Method, ParameterSpec, Step, WorksOut
from calibration.families.gas import limits as gas_limits
from calibration.families.gas import parts as gas

CHANNELS = range(4)
PREPARE = Step(
    id="prepare",
    stage="identify",
    kind="checklist",
    title="Filters, probe, battery",
    instruction="Look the instrument over before gas comes near.",
    why="A wet filter or an empty battery looks like a bad sensor.",
    items=(
        Item(id="filters", label="Filters clean and dry, probe and hose tight"),
        Item(id="battery", label="Battery charged"),
        Item(id="selftest", label="Self-test passed: display, sound, light, vibration"),
    ),
)
FLOW_ALARM = Step(
    id="flow_alarm",
    stage="identify",
    kind="record",
    title="Block the inlet",
    instruction="Block the inlet with a finger and count until it alarms.",
    why="A pump that fails in silence draws no gas to the sensors.",
    fields=(
        Field(
            id="flow_alarm_s",
            label="Seconds to the flow alarm",
            kind="number",
            unit="s",
            most="flow_alarm_s",
            question="It must alarm within {expected}. Slower, it may not be used. Read right?",
        ),
    ),
)
AIR_TEST = Step(
    id="air_test",
    stage="identify",
    kind="record",
    title="Is the air clean here?",
    instruction="Read another, proven instrument in the same air.",
    why="A zero in air that carries gas hides that much gas from then on.",
    fields=tuple(
        Field(
            id=f"{gas.OTHER_INSTRUMENT}{'abcd'[n]}",
            label="Other instrument, {gas}",
            kind="number",
            channel=n,
        )
        for n in CHANNELS
    ),
)
TUBE = replace(
    gas.ADAPTER,
    title="Tube on",
    instruction="Connect the tube from the demand-flow or low fixed-flow regulator to the inlet.",
    why="A pumped instrument draws its own flow: a high pressure would flood the sensors.",
    on_label="Tube on the inlet",
    together=None,
)
TUBE_OFF = replace(
    gas.ADAPTER_OFF,
    title="Tube off",
    instruction="Take the tube off and let it draw clean air.",
    why="It must draw the air around it again.",
    together=None,
)
OUT_OF_USE = Step(
    id="bypass",
    stage="safe",
    kind="put_on",
    title="Out of use",
    button="It is out of use",
    instruction="Tag the instrument as out of use, so that nobody takes it along.",
    why="An instrument half calibrated must not guard anybody.",
    caution=gas.CARE,
    on_label="Instrument out of use",
    on_kind="bypass",
)
BACK_IN_USE = Step(
    id="unbypass",
    stage="return",
    kind="take_off",
    title="Back in use",
    button="It is back in use",
    instruction="Take the tag off and put it back with the date of this calibration.",
    why="An instrument that nobody knows to be ready is not used.",
    ends="bypass",
)
_RUNS = (
    *(gas.run("as_found", "As found", "span", channel=n) for n in CHANNELS),
    *(gas.run("as_left", "As left", "span", channel=n) for n in CHANNELS),
    *(gas.air("air_found", "Fresh air, as found", n) for n in CHANNELS),
    *(gas.air("air_left", "Clear of gas", n, clear=True) for n in CHANNELS),
)
_CALIBRATE = (
    AIR_TEST,
    *(gas.air_found(n) for n in CHANNELS),
    TUBE,
    *(replace(gas.found(n), together=None) for n in CHANNELS),
    gas.JUDGE,
    gas.REPLACE,
    replace(TUBE_OFF, id="tube_off", stage="adjust", only_if=ADJUSTING),
    *(
        gas.set_gas("zero", "air", n, instruction="Zero it in fresh air that was proven clean.")
        for n in CHANNELS
    ),
    replace(TUBE, id="adapter_again", stage="adjust", only_if=ADJUSTING),
    *(gas.set_gas("span", "span", n) for n in CHANNELS),
    *(gas.left(n) for n in CHANNELS),
    gas.LEFT_JUDGE,
    replace(TUBE_OFF, id="adapter_off", ends="adapter_again", only_if=ADJUSTING),
    replace(TUBE_OFF, id="tube_off_end", ends="adapter", only_if=UNLESS_ADJUSTING),
    *(gas.air_left(n) for n in CHANNELS),
    gas.AIR_JUDGE,
    gas.ALARM,
)
_MORE = (
    ParameterSpec(
        id="flow_alarm_s", label="Flow alarm within", default="10", unit="s", least="1", most="60"
    ),
)
GAS_PORTABLE = Method(
    id="gas_portable",
    version=1,
    title="Portable pumped gas detector",
    called="every gas",
    fits="A portable with a pump: fresh-air zero, then each gas in the order of its record.",
    runs=_RUNS,
    steps=(
        gas.kit(*(gas.span_gas(n) for n in CHANNELS)),
        OUT_OF_USE,
        replace(gas.IDENTITY, together=None),
        PREPARE,
        FLOW_ALARM,
        *_CALIBRATE,
        BACK_IN_USE,
        gas.SIGN,
    ),
    parameters=gas_limits.gas(*gas_limits.SETTING, *_MORE, without=("warm_up_minutes",)),
    sources=gas.SOURCES,
)

ACCESSORIES = Step(
    id="accessories",
    stage="identify",
    kind="checklist",
    title="What came with it",
    instruction="Compare the box with the order.",
    why="What is missing is asked for today, not at the first alarm.",
    items=(
        Item(id="box", label="Charger, probe, filters and tube are there"),
        Item(id="certificate", label="Certificate of its maker is there and in date"),
        Item(id="manual", label="Manual is there, in the right language"),
    ),
)
MEMORY = Step(
    id="memory",
    stage="identify",
    kind="checklist",
    title="Memory clear, clock right",
    instruction="Clear its log and set its clock.",
    why="What it logged in the factory is not ours.",
    items=(
        Item(id="clear", label="Log cleared"),
        Item(id="clock", label="Clock set to site time"),
    ),
)
ENDURANCE = Step(
    id="endurance",
    stage="identify",
    kind="record",
    title="How long the battery lasts",
    instruction="Charge it, let it log until it stops, and read how many samples it holds.",
    why="It must outlast a shift with the pump on.",
    fields=(
        Field(id="samples", label="Samples logged", kind="number"),
        Field(id="interval_min", label="Interval", kind="number", unit="min"),
    ),
    works_out=WorksOut(
        operation="portable.endurance",
        shows=("hours",),
        must_hold=(("enough", "It lasts {hours} h; it must outlast a shift. Read right?"),),
    ),
)
GAS_RECEIVING = Method(
    id="gas_receiving",
    version=1,
    title="Receiving check of a portable gas detector",
    called="receiving check",
    fits="A portable that is new or back from repair.",
    lacks="failed",
    outcomes={
        "within": "accepted",
        "adjusted": "accepted after setting",
        "limited": "accepted for limited use",
        "failed": "not accepted",
        "stopped": "not accepted yet: the check was not finished",
    },
    runs=_RUNS,
    steps=(
        gas.kit(*(gas.span_gas(n) for n in CHANNELS)),
        OUT_OF_USE,
        replace(gas.IDENTITY, together=None),
        ACCESSORIES,
        PREPARE,
        FLOW_ALARM,
        *_CALIBRATE,
        MEMORY,
        ENDURANCE,
        BACK_IN_USE,
        gas.SIGN,
    ),
    parameters=gas_limits.gas(*gas_limits.SETTING, *_MORE, without=("warm_up_minutes",)),
    sources=gas.SOURCES,
)
