"""Why a gas detector reads wrong: causes from what was seen, and the check that tells them apart.

Evidence comes from several places: the readings in air, zero gas and span gas, the time to 90 %,
the current, the flow, what else is on the shelf, and the history of the sensor. A cause is named
only when something in the evidence points to it.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from calibration.detector import cause_rows as cause_rows
from calibration.detector.evidence import Evidence as Evidence
from calibration.detector.evidence import Likeness as Likeness
from calibration.detector.visit import FAMILY_CAUTION, NONE_BELOW
from calibration.gas.mixture import BEAD_OXYGEN
from calibration.kernel.checks import between, positive
from calibration.kernel.codec import about
from calibration.kernel.pictures import Bar, Bars, Picture
from calibration.kernel.registry import operation
from calibration.runs.causes import Cause, cause

#: Below this an output is no measurement. NAMUR NE 43. [mA]
MEASURES_FROM_MA = 3.6
#: Air and zero gas that differ by more than this are not both clean. [% of range]
BACKGROUND = 1.5
#: Gas around, where a proven instrument shows more than this. [% of range]
BESIDE = 1.0
#: A zero that moves faster than this is not warm. [% of range a minute]
COLD_SLOPE = 0.3
#: A response this many times slower than usual: the way to the sensor is narrow.
PLUGGED, POISONED = 2.2, 1.25
#: How close a ratio must be to the one that another cylinder or table would give.
ALIKE = 0.045
#: How close a response must be to the one its trend expects. [% of the last one]
TREND = 6.0


@dataclass(frozen=True, kw_only=True)
class NamedOut:
    """The causes, the likeliest first."""

    causes: tuple[Cause, ...] = about("causes")
    response_percent: float | None = about("response to the span gas", unit="%", decimals=1)


def _picture(i: Evidence, o: NamedOut) -> Picture | None:
    shown = (("air", i.air), ("zero gas", i.zero), ("span gas", i.span), ("applied", i.gas_value))
    bars = tuple(
        Bar(
            label=label,
            value=max(0.0, value),
            text=f"{value:.4g}",
            tone="muted" if label == "applied" else "ink",
        )
        for label, value in shown
        if value is not None
    )
    return Bars(alt="What was read in air, zero gas and span gas.", bars=bars) if bars else None


@operation(
    "detector.causes",
    title="Why does the detector read wrong?",
    family="Gas detectors",
    formula="response = 100 × (span − zero) / gas value; time, zero, current, flow, shelf and "
    "history each point to their own cause",
    source="rules of this product; the detector's manual decides",
    example={
        "range": "100",
        "air": "0.2",
        "zero": "0.1",
        "gas_value": "50",
        "span": "25.1",
        "t90_s": "19",
        "usual_t90_s": "18",
        "shelf": [{"name": "G-12", "value": "25"}],
    },
    words="detector wrong low slow no response poisoned plugged filter cylinder background",
    cautions=(FAMILY_CAUTION, "A cause named here is a suspicion: make the check it names."),
    picture=_picture,
    worked=lambda i, o: (
        []
        if o.response_percent is None
        else [f"100 × ({i.span:g} − {i.zero or 0:g}) / {i.gas_value:g} = {o.response_percent:.1f}"]
    ),
)
def causes_of(request: Evidence) -> NamedOut:
    """Name the causes that the evidence points to.

    Raises
    ------
    InputError
        ``range.not_positive``, ``accept_percent.out_of_range``.

    References
    ----------
    Rules of this product. Currents below 3.6 mA are no measurement: NAMUR NE 43.
    """
    positive(request.range, "range", "range")
    between(request.accept_percent, 0.1, 90, "accept_percent", "limit", "%")
    held = _held(request)
    if held:
        return NamedOut(causes=(held,), response_percent=None)
    found = [*_settings(request), *_at_zero(request)]
    response = _response(request)
    if response is not None:
        found += _at_span(request, response)
    return NamedOut(
        causes=tuple(found), response_percent=None if response is None else 100 * response
    )


def _response(e: Evidence) -> float | None:
    if e.span is None or not e.gas_value:
        return None
    zero = e.span_from if e.span_from is not None else e.zero or 0.0
    return (e.span - zero) / e.gas_value


def _held(e: Evidence) -> Cause | None:
    if e.output_ma is None or e.output_ma >= MEASURES_FROM_MA:
        return None
    seen = f"The output stands at {e.output_ma:.2f} mA: below {MEASURES_FROM_MA} mA nothing is "
    if abs(e.output_ma - e.inhibit_ma) <= 0.3:
        return cause(
            "inhibited",
            0.0,
            seen + "measured. It is the current of its calibration mode, not zero gas.",
            "Take it out of its calibration mode, wait, and read it again.",
            1.0,
        )
    return cause(
        "fault_current",
        0.0,
        seen + "measured. The detector reports a fault.",
        "",
        1.0,
    )


def _fast(e: Evidence) -> str:
    """Return what is said of the time to 90 %; nothing of one that nobody took."""
    return "" if e.by_gas and e.t90_s is None else ", as fast as usual"


def _settings(e: Evidence) -> Iterator[Cause]:
    if abs(e.reference_off_percent) > 1:
        was = "was found" if e.by_gas else "is"
        doubt = " The last span was set for another gas, and is in doubt." if e.by_gas else ""
        yield cause(
            "reference_voltage",
            e.reference_off_percent,
            f"The reference voltage {was} {e.reference_off_percent:+.1f} % off what the gas asks "
            f"for.{doubt}",
        )
    if e.flow is not None and e.flow < 0.1 * e.flow_wanted and e.span is not None:
        yield cause(
            "no_flow",
            0.0,
            f"The flow shows {e.flow:.2f} L/min; {e.flow_wanted:g} are wanted.",
        )


def _at_zero(e: Evidence) -> Iterator[Cause]:
    air = None if e.air is None else 100 * (e.air - e.rest) / e.range
    zero = None if e.zero is None else 100 * (e.zero - e.rest) / e.range
    if e.principle == "oxygen":
        return
    if e.beside is not None and 100 * (e.beside - e.rest) / e.range > BESIDE:
        size = 100 * (e.beside - e.rest) / e.range
        yield cause("background_gas", size, f"Another instrument shows {e.beside:g} there too.")
        return
    if e.zero_slope is not None and abs(e.zero_slope) > COLD_SLOPE:
        yield cause(
            "cold",
            e.zero_slope,
            f"The zero still moves by {e.zero_slope:+.2f} % of range a minute.",
        )
        return
    if air is not None and zero is not None and air - zero > BACKGROUND:
        yield cause(
            "background_gas",
            air - zero,
            f"The air reads {air - zero:.1f} % of range more than zero gas: something is in it.",
        )
    elif air is not None and zero is not None and zero - air > BACKGROUND:
        yield cause(
            "zero_gas_suspect",
            zero - air,
            f"Zero gas reads {zero - air:.1f} % of range more than the air around.",
        )
    else:
        low = min((v for v in (air, zero) if v is not None), default=0.0)
        if low < -BACKGROUND:
            yield cause(
                "background_gas",
                low,
                f"Clean gas reads {low:.1f} % of range: it was zeroed with gas around it.",
                "Zero it with zero gas from a cylinder; find out what was around last time.",
            )
        elif e.by_gas and zero is not None and zero > BACKGROUND:
            said = f"Zero gas reads {zero:.1f} % of range"
            if air is None:
                # Without the air nothing tells a zero that moved from a gas that is not clean.
                yield cause("zero_gas_suspect", zero, f"{said}; the air was not read beside it.")
            else:
                yield cause("head_zero", zero, f"{said}, and the air the same.")


def _at_span(e: Evidence, response: float) -> Iterator[Cause]:
    assert e.span is not None and e.gas_value
    if e.flow is not None and e.flow < 0.1 * e.flow_wanted:
        return
    percent = 100 * response
    if e.span >= 1.03 * e.range:
        yield cause(
            "saturated",
            percent - 100,
            "It stands past its range, whatever is applied.",
            "Shut the gas. A bead may be overloaded or open: test it in clean air, then replace.",
        )
        return
    if percent < NONE_BELOW:
        yield _nothing(e)
        return
    slow = e.t90_s / e.usual_t90_s if e.t90_s and e.usual_t90_s else 1.0
    if slow >= PLUGGED:
        yield cause(
            "plugged_filter",
            percent - 100,
            f"It takes {slow:.1f} times its usual time to 90 %, and answers with {percent:.0f} %.",
        )
        return
    if abs(percent - 100) <= e.accept_percent:
        if _spent(e):
            yield _to_replace(e, percent, 1.0)
        return
    yield from _off(e, response, slow)


def _nothing(e: Evidence) -> Cause:
    if e.other_channel_percent is not None and e.other_channel_percent > 10:
        return cause(
            "wrong_channel",
            -100.0,
            f"Another channel answered by {e.other_channel_percent:.0f} % of its range instead.",
        )
    return cause(
        "cap_on",
        -100.0,
        "Gas flows and nothing answers; zero and noise are as usual.",
    )


def _spent(e: Evidence) -> bool:
    return e.of_new_percent is not None and e.of_new_percent < e.replace_percent


def _to_replace(e: Evidence, percent: float, sure: float) -> Cause:
    assert e.of_new_percent is not None
    first = "" if sure == 1.0 else "Compare with another cylinder first. "
    return cause(
        "spent",
        e.of_new_percent - 100,
        f"It answers with {e.of_new_percent:.1f} % of a new sensor; the site replaces below "
        f"{e.replace_percent:g} %.",
        f"{first}Replace the sensor: what is set now does not last. Then set it and read it again.",
        sure,
    )


def _optics(e: Evidence, size: float, percent: float) -> Cause:
    """What an infrared head reads wrong for lies in its light, never in its span."""
    if size > 0:
        return cause(
            "optics_high",
            size,
            f"It answers with {percent:.0f} % of the gas{_fast(e)}.",
            "",
            0.6,
        )
    return cause(
        "window",
        size,
        f"It answers with {percent:.0f} % of the gas{_fast(e)}: less light comes through.",
        "",
        0.6,
    )


def _off(e: Evidence, response: float, slow: float) -> Iterator[Cause]:
    percent = 100 * response
    size = percent - 100
    if e.expired_days > 0:
        yield cause(
            "expired_gas",
            size,
            f"The cylinder is {e.expired_days} days past its date; it reads {percent:.0f} %.",
        )
        return
    if e.principle == "catalytic" and e.oxygen_percent < BEAD_OXYGEN:
        yield cause(
            "no_oxygen",
            size,
            f"The gas carries {e.oxygen_percent:.1f} % oxygen: a bead cannot burn it.",
        )
        return
    if e.dry and percent < 100:
        yield cause(
            "dry_gas",
            size,
            f"Dry gas on a sensor that wants it humid: {percent:.0f} %.",
        )
        return
    if slow >= POISONED and percent < 85:
        yield cause(
            "poisoned",
            size,
            f"All at once it answers with {percent:.0f} %, and {slow:.1f} times slower.",
        )
        return
    if e.fixed_span:
        yield _optics(e, size, percent)
        return
    trend = e.expected_percent
    if trend is not None and trend < 97 and abs(percent - trend) <= TREND:
        if _spent(e):
            yield _to_replace(e, percent, 1.0)
            return
        yield cause(
            "aged",
            size,
            f"It answers with {percent:.0f} %; its trend expects {trend:.0f} %.",
        )
        return
    if e.table_ratio is not None and abs(response / e.table_ratio - 1) <= ALIKE:
        yield cause(
            "other_lel_table",
            size,
            f"It answers with {percent:.0f} %, as a gas labelled by the other table of limits.",
        )
        return
    reads = response * (e.gas_value or 0.0)
    twin = min(
        (s for s in e.shelf if reads and s.value and abs(reads / s.value - 1) <= ALIKE),
        key=lambda s: abs(reads / s.value - 1),
        default=None,
    )
    if twin is not None:
        yield cause(
            "wrong_cylinder",
            size,
            f"It reads what {twin.name} with {twin.value:g} would give.",
        )
        return
    if percent < 100:
        if _spent(e):
            yield _to_replace(e, percent, 0.6)
            return
        yield cause(
            "aged",
            size,
            f"It answers with {percent:.0f} % of the gas{_fast(e)}.",
            "Compare with another cylinder; then set the span, if it can be set.",
            0.6,
        )
        return
    yield cause(
        "span_error",
        size,
        f"It answers with {percent:.0f} % of the gas{_fast(e)}.",
        "Check cylinder and flow; then set the span.",
        0.6,
    )
