"""The zero of a mass flow meter: what it is worth, and whether it is left alone."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.checks import not_negative, positive
from calibration.kernel.codec import about
from calibration.kernel.pictures import Chart, Picture, Series, Spot, sampled
from calibration.kernel.registry import operation

Action = Literal[
    "leave_the_zero",
    "show_the_live_zero",
    "make_conditions",
    "find_the_cause",
    "set_a_new_zero",
]
#: A mean over less says little of a zero that breathes. [s]
LEAST_S = 60
ACTIONS = {
    "leave_the_zero": "Leave the zero alone: it is within the zero stability.",
    "show_the_live_zero": "Exactly 0 without any noise: a low-flow cut-off or one-way output hides "
    "the zero. Read the live zero, with the cut-off off.",
    "make_conditions": "Make the conditions first; a zero taken without them is worth nothing.",
    "find_the_cause": "Look for a leaking valve, flashing, gas or solids; then verify again.",
    "set_a_new_zero": "Set a new zero under these conditions, and verify it afterwards.",
}


@dataclass(frozen=True, kw_only=True)
class Conditions:
    """What must be true before a zero means anything."""

    full_of_fluid: bool = about("full of fluid", default=True)
    blocked_in: bool = about("blocked in, downstream then upstream", default=True)
    at_process_temperature: bool = about("at process temperature", default=True)
    drive_gain_stable: bool = about("drive gain stable", default=True)
    density_stable: bool = about("density stable", default=True)
    no_severe_alarm: bool = about("no severe alarm", default=True)


@dataclass(frozen=True, kw_only=True)
class ZeroIn:
    """A zero verification of a mass flow meter."""

    measured_zero: Decimal = about("flow shown when blocked in", unit="kg/h")
    stored_zero: Decimal = about("zero offset already stored", unit="kg/h", default=Decimal(0))
    shown_is: Literal["corrected", "raw"] = about(
        "what is shown has the stored zero taken off already, or not", default="corrected"
    )
    noise: Decimal | None = about("scatter of the live zero", unit="kg/h", default=None)
    mean_of_s: Decimal | None = about("mean over", unit="s", default=None)
    zero_stability: Decimal = about("zero stability of the meter", unit="kg/h")
    minimum_flow: Decimal = about("smallest flow of the process", unit="kg/h")
    normal_flow: Decimal | None = about("normal flow", unit="kg/h", default=None)
    full_flow: Decimal | None = about("full flow", unit="kg/h", default=None)
    offset_before: Decimal | None = about("offset in the meter, in its own unit", default=None)
    offset_after: Decimal | None = about("the same after a new zero", default=None)
    flow_per_offset: Decimal | None = about("flow of 1 of that unit", unit="kg/h", default=None)
    school: Literal["keep", "each_visit"] = about(
        "the site keeps a zero that is good, or zeroes at each visit", default="keep"
    )
    attempt: int = about("attempt", default=1)
    conditions: Conditions = about("conditions", default=Conditions())


@dataclass(frozen=True, kw_only=True)
class ZeroOut:
    """The verdict and what the zero is worth."""

    verified: bool = about("zero verified")
    next_action: Action = about("next")
    advice: str = about("advice")
    deviation: Decimal = about("zero away from the stored one", unit="kg/h")
    share_of_limit_percent: Decimal = about("share of the zero stability", unit="%", decimals=0)
    at_minimum_percent: Decimal = about("worth at the smallest flow", unit="%", decimals=3)
    at_normal_percent: Decimal | None = about("worth at the normal flow", unit="%", decimals=3)
    at_full_percent: Decimal | None = about("worth at full flow", unit="%", decimals=3)
    offset_moved: Decimal | None = about("offset moved by, in the meter's own unit")
    offset_worth: Decimal | None = about("which is a flow of", unit="kg/h", decimals=3)
    missing: tuple[str, ...] = about("conditions missing")


def _zero_picture(i: ZeroIn, o: ZeroOut) -> Picture:
    low = float(i.minimum_flow)
    high = max(10 * low, float(i.normal_flow or 0) * 1.1)
    size = abs(float(o.deviation)) or float(i.zero_stability)
    spots = [Spot(x=low, y=100 * size / low, label="smallest flow")]
    if i.normal_flow:
        spots.append(
            Spot(x=float(i.normal_flow), y=100 * size / float(i.normal_flow), label="normal")
        )
    return Chart(
        alt="What the zero is worth in percent of the flow.",
        x_label="Flow [kg/h]",
        y_label="Zero error [% of flow]",
        series=(
            Series(points=sampled(lambda q: 100 * size / q, low, high), name="this zero"),
            Series(
                points=sampled(lambda q: 100 * float(i.zero_stability) / q, low, high),
                name="zero stability",
                style="dash",
                tone="muted",
            ),
        ),
        spots=tuple(spots),
    )


@operation(
    "massflow.zero",
    title="Mass flow meter: verify the zero",
    family="Flow",
    formula="verified when |zero| ≤ zero stability; zero = shown, where the meter takes its stored "
    "zero off by itself, else shown − stored;  worth = 100 × |zero| / flow",
    source="zero stability as the maker states it",
    example={
        "measured_zero": "1.8",
        "shown_is": "raw",
        "stored_zero": "0.2",
        "zero_stability": "1.1",
        "minimum_flow": "900",
        "normal_flow": "5400",
    },
    words="coriolis mass flow zero stability drift block",
    cautions=("Block in by the site's procedure; a trapped liquid expands when it warms.",),
    worked=lambda i, o: [
        (f"|{i.measured_zero:g} − {i.stored_zero:g}| = " if i.shown_is == "raw" else "zero ")
        + f"{abs(o.deviation):g} kg/h against {i.zero_stability:g} kg/h",
        f"at {i.minimum_flow:g} kg/h: {o.at_minimum_percent:.3f} %",
    ],
    picture=_zero_picture,
)
def massflow_zero(request: ZeroIn) -> ZeroOut:
    """Judge the zero of a mass flow meter; a factory zero stays unless it fails twice.

    What a meter shows has its stored zero taken off already: only a raw value has not.

    Raises
    ------
    InputError
        ``zero_stability.not_positive``, ``minimum_flow.not_positive``,
        ``normal_flow.not_positive``, ``full_flow.not_positive``, ``attempt.not_positive``,
        ``noise.negative``, ``mean_of_s.not_positive``, ``flow_per_offset.not_positive``.

    References
    ----------
    ISO 10790:2015: zero stability is the limit of the zero, a constant flow, so that its
    worth in percent falls with the flow. That a good zero is left alone is a rule of this product.
    """
    _refuse(request)
    raw = request.shown_is == "raw"
    away = request.measured_zero - request.stored_zero if raw else request.measured_zero
    ok = abs(away) <= request.zero_stability
    missing = [n.replace("_", " ") for n, there in vars(request.conditions).items() if not there]
    if request.mean_of_s is not None and request.mean_of_s < LEAST_S:
        missing.append(f"a mean over {LEAST_S} s or more")
    hidden = request.measured_zero == 0 and request.noise == 0
    action = _next(request, ok=ok, hidden=hidden, missing=bool(missing))
    moved = worth = None
    if request.offset_before is not None and request.offset_after is not None:
        moved = request.offset_after - request.offset_before
        worth = moved * request.flow_per_offset if request.flow_per_offset else None
    return ZeroOut(
        verified=ok and not missing and not hidden,
        next_action=action,
        advice=ACTIONS[action],
        deviation=away,
        share_of_limit_percent=100 * abs(away) / request.zero_stability,
        at_minimum_percent=100 * abs(away) / request.minimum_flow,
        at_normal_percent=_share(away, request.normal_flow),
        at_full_percent=_share(away, request.full_flow),
        offset_moved=moved,
        offset_worth=worth,
        missing=tuple(missing),
    )


def _refuse(request: ZeroIn) -> None:
    """Refuse what cannot be."""
    positive(request.zero_stability, "zero_stability", "zero stability", "kg/h")
    positive(request.minimum_flow, "minimum_flow", "smallest flow", "kg/h")
    positive(request.attempt, "attempt", "attempt")
    for value, field, name, unit in (
        (request.normal_flow, "normal_flow", "normal flow", "kg/h"),
        (request.full_flow, "full_flow", "full flow", "kg/h"),
        (request.mean_of_s, "mean_of_s", "time", "s"),
        (request.flow_per_offset, "flow_per_offset", "flow of 1 of its unit", "kg/h"),
    ):
        if value is not None:
            positive(value, field, name, unit)
    if request.noise is not None:
        not_negative(request.noise, "noise", "scatter")


def _next(request: ZeroIn, *, ok: bool, hidden: bool, missing: bool) -> Action:
    if hidden:
        return "show_the_live_zero"
    if missing:
        return "make_conditions"
    if ok:
        return "set_a_new_zero" if request.school == "each_visit" else "leave_the_zero"
    return "find_the_cause" if request.attempt == 1 else "set_a_new_zero"


def _share(away: Decimal, flow: Decimal | None) -> Decimal | None:
    return 100 * abs(away) / flow if flow else None
