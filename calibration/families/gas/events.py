"""What happens with gas: opened, shut, zero or span set, forced."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.engine.job.facts import AssetFacts
from calibration.kernel.codec import about, swept
from calibration.kernel.own import Own
from calibration.signals.stability import Sample


@dataclass(frozen=True, kw_only=True)
class Answer:
    """What a detector did in the gas, beside its reading."""

    t90_s: Decimal | None = about("time to 90 %", unit="s", default=None)
    peak: Decimal | None = about("highest value", unit="gas unit", default=None)
    flow: Decimal | None = about("flow seen", unit="L/min", default=None)
    other_percent: Decimal | None = about(
        "largest answer of another channel", unit="% of its range", default=None
    )
    curve: tuple[Sample, ...] = about("reading since gas on", default=())
    life_percent: Decimal | None = about("life by its own display", unit="%", default=None)


@dataclass(frozen=True, kw_only=True)
class GasOn:
    """A cylinder is opened onto the detector."""

    step: str = about("step")
    role: str = about("which gas")
    flow: Decimal = about("flow set", unit="L/min")
    kept: bool = about("a question about the flow was answered with: keep it", default=False)
    flush: bool = about("it flushes what is left of another gas; nothing is read", default=False)


@dataclass(frozen=True, kw_only=True)
class GasOff:
    """The cylinder is shut."""

    step: str = about("step")


@dataclass(frozen=True, kw_only=True)
class GasSet:
    """Zero or span set in the detector; values as it shows them."""

    step: str = about("step")
    before: Decimal | None = about(
        "what it showed in the gas; none: as it was read last", unit="gas unit", default=None
    )
    after: Decimal = about("what it shows after it was set", unit="gas unit")
    kept: bool = about("a question about a slip was answered with: keep it", default=False)


@dataclass(frozen=True, kw_only=True)
class Exposed:
    """All channels of one exposure, as read and, where it was set, as set.

    By the short name of the channel: ``a`` what it showed, ``a_after`` what it shows after it was
    set, ``a_other`` what another, proven instrument shows in the same air. [gas unit]
    """

    step: str = about("step")
    kept: bool = about("a question about a slip was answered with: keep it", default=False)
    own: Own = swept()


@dataclass(frozen=True, kw_only=True)
class GasKept:
    """Zero or span is good as it is; it is not set."""

    step: str = about("step")


@dataclass(frozen=True, kw_only=True)
class Agreed:
    """A refused adjustment may be forced: why, and who or what confirms it."""

    step: str = about("step")
    reason: str = about("why it is forced")
    way: Literal["second_person", "other_cylinder", "checks"] = about("what confirms it")
    name: str = about("second person", default="")
    asset: AssetFacts | None = about("the other cylinder", default=None)
    reading: Decimal | None = about("what it shows with it", unit="gas unit", default=None)
    label: str = about("value on the label of the cylinder", default="")
    until: str = about("date on the label", default="")
    flow_seen: str = about("flow seen at the regulator", default="")
