"""Fixed gas detectors: zero and span, infrared, oxygen, two channels."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method.conditions import site_says
from calibration.engine.method.method import Field, Method, ParameterSpec, Step, WorksOut
from calibration.families.gas import limits as gas_limits
from calibration.families.gas import parts as gas
from calibration.families.gas.gases import SUFFIX
from calibration.families.shared import limits, parts

_START = (gas.OPERATOR, gas.BYPASS, gas.AREA, gas.IDENTITY)
_END = (
    gas.ADAPTER_OFF,
    gas.air_left(),
    gas.AIR_JUDGE,
    gas.ALARM,
    gas.RESTORE,
    gas.UNBYPASS,
    gas.SIGN,
)
_BEFORE_GAS = (gas.STATE, parts.AMBIENT, gas.WARM_UP, gas.air_found(), gas.ADAPTER)

GAS_ZERO_SPAN = Method(
    id="gas_zero_span",
    version=1,
    title="Zero and span of a gas detector",
    called="zero and span",
    covers=("gas_bump",),
    fits="Catalytic and electrochemical heads.",
    runs=(
        gas.run("as_found", "As found", "zero", "span"),
        gas.run("as_left", "As left", "zero", "span"),
        gas.air("air_found", "Air, as found"),
        gas.air("air_left", "Clear of gas", clear=True),
    ),
    steps=(
        gas.kit(gas.ZERO_GAS, gas.span_gas()),
        *_START,
        gas.span_setting()[0],
        *_BEFORE_GAS,
        gas.found(),
        gas.JUDGE,
        gas.REPLACE,
        gas.span_setting()[1],
        gas.set_gas("zero", "zero"),
        gas.set_gas("span", "span"),
        gas.left(),
        gas.LEFT_JUDGE,
        *_END,
    ),
    parameters=gas_limits.gas(*gas_limits.SETTING),
    sources=gas.SOURCES,
)

FLUSH = Step(
    id="flush",
    stage="identify",
    kind="timer",
    title="Flush the optical path",
    instruction="Let clean dry gas or air through the optical path.",
    why="What is left between the windows counts as zero.",
    minutes="flush_minutes",
)
GAS_INFRARED = Method(
    id="gas_infrared",
    version=1,
    title="Zero and response of an infrared gas detector",
    called="zero and response",
    covers=("gas_bump",),
    fits="Infrared heads: only the zero is set, the response is checked.",
    runs=GAS_ZERO_SPAN.runs,
    steps=(
        gas.kit(replace(gas.ZERO_GAS, label="Dry zero gas, free of hydrocarbons"), gas.span_gas()),
        *_START,
        *_BEFORE_GAS[:-1],
        FLUSH,
        gas.ADAPTER,
        gas.found(
            instruction="Zero gas first, then target gas. A fast rise can pass its end: wait."
        ),
        gas.JUDGE,
        gas.REPLACE,
        gas.set_gas(
            "zero",
            "zero",
            instruction="Set zero in dry zero gas. If the detector asks for zero gas now, the "
            "path is not clean: stop.",
        ),
        gas.left(),
        gas.LEFT_JUDGE,
        *_END,
    ),
    parameters=gas_limits.gas(
        *gas_limits.SETTING,
        ParameterSpec(
            id="flush_minutes", label="Flush the path", default="2", unit="min", most="60"
        ),
        interval_days="365",
    ),
    sources=gas.SOURCES,
)

NITROGEN_ZERO = site_says("nitrogen_zero")
_NITROGEN_ADAPTER = replace(gas.ADAPTER, only_if=NITROGEN_ZERO, stage="found", together=None)
GAS_OXYGEN = Method(
    id="gas_oxygen",
    version=1,
    title="Oxygen detector in clean air",
    called="clean air",
    fits="Oxygen: one point in clean air, a zero in nitrogen where the site wants it.",
    runs=(
        gas.air("as_found", "As found"),
        gas.air("as_left", "As left"),
        replace(gas.run("as_found_n2", "In nitrogen", "nitrogen"), start="Open nitrogen and wait"),
        gas.air("air_left", "Clear of gas", clear=True),
    ),
    steps=(
        gas.kit(gas.NITROGEN),
        *_START,
        gas.STATE,
        parts.AMBIENT,
        gas.WARM_UP,
        replace(
            gas.found(instruction="Read it in clean air, away from vents and people."),
            together=None,
            caution="Too little oxygen gives no warning to the senses: never work alone there.",
        ),
        _NITROGEN_ADAPTER,
        replace(
            gas.found(id="as_found_n2", instruction="Apply nitrogen and read it."),
            only_if=NITROGEN_ZERO,
            title="In nitrogen",
            together=None,
        ),
        gas.JUDGE,
        gas.REPLACE,
        gas.set_gas("zero", "nitrogen", instruction="Set zero when it is steady in nitrogen."),
        replace(gas.ADAPTER_OFF, stage="adjust", only_if=NITROGEN_ZERO, together=None),
        gas.set_gas("span", "air", instruction="Set it to 20.9 % in clean air."),
        gas.left(),
        gas.LEFT_JUDGE,
        gas.air_left(),
        gas.AIR_JUDGE,
        gas.ALARM,
        gas.RESTORE,
        gas.UNBYPASS,
        gas.SIGN,
    ),
    parameters=gas_limits.gas(
        *gas_limits.SETTING, limits.yes_or_no("nitrogen_zero", "Zero in nitrogen as well", "no")
    ),
    sources=gas.SOURCES + " Oxygen in dry air: ISO 2533.",
)


def _reference(channel: int) -> Step:
    """Return the check of a reference voltage against the gas of today."""
    name = "abcd"[channel]
    return Step(
        id=f"reference{SUFFIX[channel]}",
        stage="identify",
        kind="record",
        title=f"Reference voltage{gas.ORDINAL[channel]}",
        instruction="Measure the reference voltage of the span gas and type it.",
        why="Another technician may have set it for another cylinder.",
        fields=(
            Field(
                id=f"reference_{name}",
                label="Reference voltage measured",
                kind="number",
                unit="V",
                question="For the gas of today it comes to {expected} V. Somebody may have set it "
                "for another gas: set it, and type what you measure then.",
            ),
        ),
        works_out=WorksOut(
            operation="gas.reference_voltage",
            shows=("voltage_v",),
            computed=((f"reference_{name}", "voltage_v"),),
        ),
        channel=channel,
    )


GAS_TWO_CHANNEL = Method(
    id="gas_two_channel",
    version=1,
    title="Two-channel gas detector, each with its own gas",
    called="both channels",
    fits="An instrument with two sensors and a reference voltage for each span gas.",
    runs=(
        gas.run("as_found", "As found", "zero", "span"),
        gas.run("as_left", "As left", "zero", "span"),
        gas.air("air_found", "Air, as found"),
        gas.air("air_found", "Air, as found", 1),
        gas.run("as_found", "As found", "zero", "span", channel=1),
        gas.run("as_left", "As left", "zero", "span", channel=1),
        gas.air("air_left", "Clear of gas", clear=True),
        gas.air("air_left", "Clear of gas", 1, clear=True),
    ),
    steps=(
        gas.kit(gas.ZERO_GAS, gas.span_gas(), gas.span_gas(1)),
        *_START,
        _reference(0),
        _reference(1),
        gas.STATE,
        parts.AMBIENT,
        gas.WARM_UP,
        gas.air_found(),
        gas.air_found(1),
        replace(
            gas.ADAPTER,
            instruction="Put the adapter on the sensor of the gas that is due; move it with the "
            "channel.",
        ),
        gas.found(),
        gas.found(1),
        gas.JUDGE,
        gas.REPLACE,
        gas.set_gas("zero", "zero"),
        gas.set_gas("span", "span"),
        gas.set_gas("zero", "zero", 1),
        gas.set_gas("span", "span", 1),
        gas.left(),
        gas.left(1),
        gas.LEFT_JUDGE,
        gas.ADAPTER_OFF,
        gas.air_left(),
        gas.air_left(1),
        gas.AIR_JUDGE,
        gas.ALARM,
        gas.RESTORE,
        gas.UNBYPASS,
        gas.SIGN,
    ),
    parameters=gas_limits.gas(*gas_limits.SETTING),
    sources=gas.SOURCES,
)
