"""Bump check: does the detector respond, and fast enough? It changes nothing."""

from __future__ import annotations

from dataclasses import dataclass

from calibration.detector.visit import (
    ADVICE,
    FAMILY_CAUTION,
    GAS_CAUTION,
    NONE_BELOW,
    RISE,
    SLOW,
    Outcome,
    Visit,
    outcome_of,
    seen_in,
    t90,
    visit_picture,
)
from calibration.kernel.checks import between, positive
from calibration.kernel.codec import about
from calibration.kernel.registry import operation


@dataclass(frozen=True, kw_only=True)
class BumpIn(Visit):
    """A response check with target gas; it changes nothing."""

    gas_value: float = about("gas value of the cylinder", unit="gas unit")
    tolerance_percent: float = about("accepted within, of the gas value", unit="%", default=20.0)
    t90_limit_s: float | None = about("t90 accepted to", unit="s", default=None)


@dataclass(frozen=True, kw_only=True)
class BumpOut:
    """Whether it responds well and fast enough."""

    outcome: Outcome = about("outcome")
    settled: float = about("settled value", unit="gas unit")
    peak: float = about("peak", unit="gas unit")
    sensitivity_percent: float = about("response, of the gas value", unit="%", decimals=1)
    t90_s: float | None = about("t90", unit="s", decimals=1)
    fast_enough: bool | None = about("fast enough")
    advice: str = about("advice")


@operation(
    "detector.bump",
    title="Bump check",
    family="Gas detectors",
    formula="response % = 100 × settled / gas value;  t90 = time to 90 % of the settled value",
    source="t90 as in IEC 60079-29-1; limits are site defaults",
    example={"samples": RISE, "gas_value": "50", "t90_limit_s": "60"},
    words="bump response check test detector t90 sensitivity",
    cautions=(FAMILY_CAUTION, GAS_CAUTION, "A bump check proves response; it adjusts nothing."),
    worked=lambda i, o: [
        f"100 × {o.settled:.4g} / {i.gas_value:g} = {o.sensitivity_percent:.1f} %"
    ],
    picture=lambda i, o: visit_picture(
        i.samples,
        i.gas_value,
        o.settled,
        i.gas_value * (1 - i.tolerance_percent / 100),
        i.gas_value * (1 + i.tolerance_percent / 100),
    ),
)
def bump(request: BumpIn) -> BumpOut:
    """Judge a response check.

    Raises
    ------
    InputError
        ``gas_value.not_positive``, ``value.needed``, ``tolerance_percent.out_of_range`` and those
        of the steadiness test.

    References
    ----------
    IEC 60079-29-1 for t90; the rest is a rule of this product.
    """
    positive(request.gas_value, "gas_value", "gas value")
    between(request.tolerance_percent, 0.1, 90, "tolerance_percent", "tolerance", "%")
    seen = seen_in(request, request.gas_value)
    percent = 100 * seen.settled / request.gas_value
    outcome = outcome_of(percent, 100 - request.tolerance_percent, 100 + request.tolerance_percent)
    if not seen.steady and outcome != "no_response":
        outcome = "unstable"
    time = None
    if request.samples and percent >= NONE_BELOW:
        time = t90(request.samples, request.samples[0].value, seen.settled)
    limit = request.t90_limit_s
    fast = None if limit is None or time is None else time <= limit
    return BumpOut(
        outcome=outcome,
        settled=seen.settled,
        peak=seen.peak,
        sensitivity_percent=percent,
        t90_s=time,
        fast_enough=fast,
        advice=SLOW if fast is False and outcome == "accepted" else ADVICE[outcome],
    )
