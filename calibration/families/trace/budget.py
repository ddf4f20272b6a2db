"""What the gas adds to the uncertainty of an error in it."""

from __future__ import annotations

from decimal import Decimal

from calibration.decisions.uncertainty import Contribution
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.families.trace.facts import span_gas
from calibration.kernel.numbers import to_float

#: The sensor follows the pressure of the air: 1 % a 10 hPa; it moves so much within a day. [hPa]
WEATHER_HPA = 10.0
PERCENT_PER_HPA = 0.1
#: The zero of the sensor is not checked: it may show this in gas without oxygen. [ppm]
ZERO_PPM = 0.05
#: A leak too small to be seen at two flows, and what is left in the regulator. [% of the gas]
UNSEEN_PERCENT = 1.0


def of_cylinder(
    facts: InstrumentFacts, asset: AssetFacts, applied: Decimal
) -> tuple[Contribution, ...]:
    """Return what cylinder, weather, zero and unseen air add. [% of span]

    References
    ----------
    JCGM 100, 4.3: limits as rectangular distributions. Partial pressure: the signal of a sensor
    behind a membrane is proportional to it (Dalton).
    """
    span = to_float(abs(facts.transfer.input_span))
    share = 100 * to_float(applied) / span / 100
    inside = span_gas(asset)
    return (
        Contribution(
            name=f"Span gas, {asset.asset}",
            value=share * to_float(inside.uncertainty_percent),
            kind="expanded",
        ),
        Contribution(
            name="Pressure of the air", value=share * WEATHER_HPA * PERCENT_PER_HPA, kind="limit"
        ),
        Contribution(name="Zero not checked", value=100 * ZERO_PPM / span, kind="limit"),
        Contribution(name="Air not seen", value=share * UNSEEN_PERCENT, kind="limit"),
    )


def of_regulator(
    facts: InstrumentFacts, asset: AssetFacts, applied: Decimal
) -> tuple[Contribution, ...]:
    """Return nothing: what is left in it is counted with the gas."""
    return ()
