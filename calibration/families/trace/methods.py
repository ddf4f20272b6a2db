"""Trace oxygen: calibrate in service, and a new sensor."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from calibration.engine.method.method import Method, ParameterSpec
from calibration.families.shared import limits, parts
from calibration.families.trace import steps as own
from calibration.families.trace.words import APART, NEW_WITHIN, SpanRun

SOURCES = (
    "Bleeding: Boyle's law. Sensor: partial pressure (Dalton). Uncertainty: JCGM 100. Decision: "
    "JCGM 106, ILAC-G8."
)


def _limits(*more: ParameterSpec, **defaults: str) -> tuple[ParameterSpec, ...]:
    return limits.parameters(
        ParameterSpec(
            id="bleed_percent",
            label="Air left in the regulator, of the span gas",
            default="1",
            unit="%",
            least="0.01",
            most="20",
        ),
        ParameterSpec(
            id="bleed_least", label="Fill and vent at least", default="3", least="1", most="30"
        ),
        ParameterSpec(
            id="span_minutes", label="Span gas on, about", default="5", unit="min", most="60"
        ),
        ParameterSpec(
            id="back_percent",
            label="Back within, of the process value",
            default="20",
            unit="%",
            most="200",
        ),
        *more,
        without=("points", "pattern", "cycles", "overshoot_percent", "warm_up_minutes"),
        **{
            "interval_days": "90",
            "bypass_minutes": "30",
            "stable_band_percent": "0.5",
            "stable_dwell_s": "20",
            **defaults,
        },
    )


_SPAN: dict[str, Any] = {
    "kind": "span_gas",
    "start": "{value} of span gas",
    "up": "{value} of span gas",
}
FOUND_RUN = SpanRun(
    id="as_found", title="As found", role="found", again="base", before=True, **_SPAN
)
LEFT_RUN = SpanRun(id="as_left", title="As left", role="left", again="base", **_SPAN)
_READ = (
    own.ON_SPAN,
    own.AS_FOUND,
    own.TELL_APART,
    parts.JUDGE,
    own.SET,
    own.AS_LEFT,
    own.LEFT_JUDGE,
    own.OFF_SPAN,
    own.SHUT,
    own.PROCESS_BACK,
    own.UNHOLD,
    own.RESTORE,
    parts.SIGN,
)
#: As they were: a measurement that tells causes apart was asked for once. For jobs of then.
TRACE_OXYGEN_1 = Method(
    id="trace_oxygen",
    version=1,
    title="Trace oxygen, calibrate in service",
    called="trace oxygen",
    fits="Bled, held off, read in span gas, set where it must be, and back.",
    runs=(FOUND_RUN, LEFT_RUN),
    steps=(
        parts.kit(*own.KIT, names="span gas, its regulator and the meter"),
        own.TUBING,
        parts.OPERATOR,
        own.PROCESS_BEFORE,
        parts.IDENTITY,
        own.STATE_OF_REGULATOR,
        own.BLEED,
        own.HOLD,
        *_READ,
    ),
    parameters=_limits(),
    sources=SOURCES,
)
NEW_SENSOR_1 = Method(
    id="trace_new_sensor",
    version=1,
    title="Trace oxygen, new sensor",
    called="new sensor",
    fits="A new sensor is fitted, watched until it is down, and set in span gas.",
    covers=(TRACE_OXYGEN_1.id,),
    runs=(
        FOUND_RUN,
        LEFT_RUN,
        SpanRun(
            id="come_down",
            title="Coming down",
            settles=True,
            kind="span_gas",
            start="Process: about {value}",
            up="Process: about {value}",
        ),
    ),
    steps=(
        parts.kit(*own.KIT, names="span gas, its regulator and the meter"),
        own.TUBING,
        parts.OPERATOR,
        own.PROCESS_BEFORE,
        own.HOLD,
        own.SELECTOR,
        own.FIT,
        own.DOWN,
        own.STATE_OF_REGULATOR,
        own.BLEED,
        *_READ,
    ),
    parameters=_limits(
        ParameterSpec(
            id=NEW_WITHIN,
            label="A new sensor reads within, before it is set",
            default="30",
            unit="%",
            most="90",
        ),
        bypass_minutes="240",
    ),
    sources=SOURCES,
)
TRACE_OXYGEN, NEW_SENSOR = (
    replace(method, version=2, steps=parts.in_each_round(method.steps, APART))
    for method in (TRACE_OXYGEN_1, NEW_SENSOR_1)
)
