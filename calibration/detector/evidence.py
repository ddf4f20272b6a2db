"""What is seen of a gas detector at one visit, on one channel."""

from __future__ import annotations

from dataclasses import dataclass

from calibration.gas.cylinder import Principle
from calibration.kernel.codec import about


@dataclass(frozen=True, kw_only=True)
class Likeness:
    """What another cylinder on the shelf would read on this channel."""

    name: str = about("cylinder")
    value: float = about("it would read", unit="gas unit")


@dataclass(frozen=True, kw_only=True)
class Evidence:
    """What was seen at one visit, on one channel."""

    range: float = about("range", unit="gas unit")
    principle: Principle = about("how it senses", default="catalytic")
    rest: float = about("what clean air reads", unit="gas unit", default=0.0)
    air: float | None = about("reading in the air around", unit="gas unit", default=None)
    zero: float | None = about("reading in zero gas", unit="gas unit", default=None)
    zero_slope: float | None = about("how the zero moves", unit="% of range/min", default=None)
    span_from: float | None = about(
        "zero that the span was read from, where it was set in between",
        unit="gas unit",
        default=None,
    )
    gas_value: float | None = about("value of the span gas", unit="gas unit", default=None)
    span: float | None = about("reading in span gas", unit="gas unit", default=None)
    accept_percent: float = about("good within, of the gas value", unit="%", default=10.0)
    t90_s: float | None = about("time to 90 %", unit="s", default=None)
    usual_t90_s: float | None = about("its usual time to 90 %", unit="s", default=None)
    output_ma: float | None = about("lowest output seen", unit="mA", default=None)
    inhibit_ma: float = about("current in calibration mode", unit="mA", default=2.0)
    flow: float | None = about("flow seen", unit="L/min", default=None)
    flow_wanted: float = about("flow wanted", unit="L/min", default=0.5)
    expired_days: int = about("days past the date of the cylinder", default=0)
    oxygen_percent: float = about("oxygen in the span gas", unit="% vol", default=20.9)
    dry: bool = about("humidified gas is wanted and was not given", default=False)
    other_channel_percent: float | None = about(
        "how far another channel answered, of its range", unit="%", default=None
    )
    reference_off_percent: float = about("reference voltage off by", unit="%", default=0.0)
    table_ratio: float | None = about("this gas by the other table of limits", default=None)
    shelf: tuple[Likeness, ...] = about("what is on the shelf besides", default=())
    expected_percent: float | None = about(
        "response that the trend expects, of the last one", unit="%", default=None
    )
    beside: float | None = about(
        "reading of another instrument in the same air", unit="gas unit", default=None
    )
    by_gas: bool = about(
        "each gas is read and set by itself, so a zero may be named", default=False
    )
    fixed_span: bool = about("its span is not set in the plant", default=False)
    of_new_percent: float | None = about("response, of a new sensor", unit="%", default=None)
    replace_percent: float = about("the site replaces below", unit="% of new", default=0.0)
