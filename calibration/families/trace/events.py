"""What happens at a trace oxygen analyzer: a regulator is bled, the span is set."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.codec import about
from calibration.signals.stability import Sample


@dataclass(frozen=True, kw_only=True)
class InSpan:
    """What is seen in span gas beside the reading."""

    minute_before: Decimal | None = about(
        "what it showed a minute before", unit="ppm", default=None
    )
    flow: Decimal | None = about("flow seen", unit="L/min", default=None)
    curve: tuple[Sample, ...] = about("reading since the valve was turned", default=())


@dataclass(frozen=True, kw_only=True)
class Bled:
    """One side of the regulator was filled and vented so many times."""

    step: str = about("step")
    side: Literal["high", "low"] = about("side of the regulator")
    bar: Decimal = about("pressure to which it was filled, by gauge", unit="bar")
    times: int = about("how often", default=1)


@dataclass(frozen=True, kw_only=True)
class SpanSet:
    """The span was set in the analyzer; values as it shows them."""

    step: str = about("step")
    before: Decimal | None = about("what it showed before", unit="ppm", default=None)
    after: Decimal = about("what it shows after it was set", unit="ppm")
    kept: bool = about("a question about a slip was answered with: keep it", default=False)
