"""Parameters of the methods for gas detectors."""

from __future__ import annotations

from calibration.engine.method.method import ParameterSpec
from calibration.families.shared import limits

_NO_POINTS = ("points", "pattern", "cycles", "overshoot_percent", "adjust_to_share")


def gas(
    *more: ParameterSpec, without: tuple[str, ...] = (), **defaults: str
) -> tuple[ParameterSpec, ...]:
    """Return the parameters of a method for gas detectors."""
    own = {
        "stable_band_percent": "1",
        "stable_dwell_s": "20",
        "warm_up_minutes": "30",
        "interval_days": "180",
        "bypass_minutes": "60",
        **defaults,
    }
    return limits.parameters(
        ParameterSpec(
            id="lel_set",
            label="Explosive limits (%LEL) by",
            default="IEC",
            kind="choice",
            choices=("IEC", "NFPA"),
            site_wide=True,
        ),
        ParameterSpec(
            id="span_minutes", label="Span gas on", default="2", unit="min", least="0.1", most="60"
        ),
        ParameterSpec(
            id="zero_minutes", label="Zero gas on", default="2", unit="min", least="0.1", most="60"
        ),
        ParameterSpec(
            id="clear_percent",
            label="Clear below, share of the span gas",
            default="5",
            unit="%",
            least="1",
            most="20",
        ),
        ParameterSpec(
            id="t90_limit_percent",
            label="Time to 90 % at most, share of the manual's",
            default="150",
            unit="%",
            least="100",
            most="400",
        ),
        *more,
        without=(*_NO_POINTS, *without),
        **own,
    )


SETTING = (
    ParameterSpec(
        id="zero_allowed_percent",
        label="Zero may be set from",
        default="10",
        unit="% of range",
        least="1",
        most="50",
    ),
    ParameterSpec(
        id="span_low_percent",
        label="Span may be set from",
        default="50",
        unit="%",
        least="10",
        most="99",
    ),
    ParameterSpec(
        id="span_high_percent",
        label="Span may be set up to",
        default="150",
        unit="%",
        least="101",
        most="300",
    ),
    ParameterSpec(
        id="weak_percent", label="Sensor weak below", default="60", unit="% of new", most="100"
    ),
    ParameterSpec(
        id="replace_percent",
        label="Sensor to replace below",
        default="40",
        unit="% of new",
        most="100",
    ),
)
