"""Flow meters: zero of a mass flow meter, verification of an electromagnetic one."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.checks import positive, some
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Chart, Picture, Series, Sketch, Spot, sampled
from calibration.kernel.registry import operation
from calibration.kernel.rounding import show

Action = Literal["leave_the_zero", "make_conditions", "find_the_cause", "set_a_new_zero"]
ACTIONS = {
    "leave_the_zero": "Leave the zero alone: it is within the zero stability.",
    "make_conditions": "Make the conditions first; a zero taken without them is worth nothing.",
    "find_the_cause": "Look for a leaking valve, flashing, gas or solids; then verify again.",
    "set_a_new_zero": "It failed twice under good conditions: set a new zero and verify it.",
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
    zero_stability: Decimal = about("zero stability of the meter", unit="kg/h")
    minimum_flow: Decimal = about("smallest flow of the process", unit="kg/h")
    normal_flow: Decimal | None = about("normal flow", unit="kg/h", default=None)
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
    formula="verified when |measured − stored| ≤ zero stability;  "
    "worth = 100 × |measured − stored| / flow",
    source="zero stability as the maker states it",
    example={
        "measured_zero": "1.8",
        "stored_zero": "0.2",
        "zero_stability": "1.1",
        "minimum_flow": "900",
        "normal_flow": "5400",
    },
    words="coriolis mass flow zero stability drift block",
    cautions=("Block in by the site's procedure; a trapped liquid expands when it warms.",),
    worked=lambda i, o: [
        f"|{i.measured_zero:g} − {i.stored_zero:g}| = {abs(o.deviation):g} kg/h against "
        f"{i.zero_stability:g} kg/h",
        f"at {i.minimum_flow:g} kg/h: {o.at_minimum_percent:.3f} %",
    ],
    picture=_zero_picture,
)
def massflow_zero(request: ZeroIn) -> ZeroOut:
    """Judge the zero of a mass flow meter; a factory zero stays unless it fails twice.

    Raises
    ------
    InputError
        ``zero_stability.not_positive``, ``minimum_flow.not_positive``,
        ``normal_flow.not_positive``, ``attempt.not_positive``.

    References
    ----------
    Rule of this product: leave the zero unless verification fails under good conditions.
    """
    positive(request.zero_stability, "zero_stability", "zero stability", "kg/h")
    positive(request.minimum_flow, "minimum_flow", "smallest flow", "kg/h")
    positive(request.attempt, "attempt", "attempt")
    if request.normal_flow is not None:
        positive(request.normal_flow, "normal_flow", "normal flow", "kg/h")
    away = request.measured_zero - request.stored_zero
    ok = abs(away) <= request.zero_stability
    missing = tuple(
        name.replace("_", " ") for name, there in vars(request.conditions).items() if not there
    )
    action: Action = "leave_the_zero"
    if missing:
        action = "make_conditions"
    elif not ok:
        action = "find_the_cause" if request.attempt == 1 else "set_a_new_zero"
    normal = request.normal_flow
    return ZeroOut(
        verified=ok and not missing,
        next_action=action,
        advice=ACTIONS[action],
        deviation=away,
        share_of_limit_percent=100 * abs(away) / request.zero_stability,
        at_minimum_percent=100 * abs(away) / request.minimum_flow,
        at_normal_percent=100 * abs(away) / normal if normal else None,
        missing=missing,
    )


@dataclass(frozen=True, kw_only=True)
class VerifierTest:
    """One automatic test of a verifier."""

    name: str = about("test")
    measured: Decimal = about("measured")
    reference: Decimal = about("stored or reference value")
    limit_percent: Decimal = about("allowed deviation", unit="%", default=Decimal(1))


@dataclass(frozen=True, kw_only=True)
class Identity:
    """What must be ticked besides the tests."""

    tag_confirmed: bool = about("tag confirmed", default=False)
    serial_confirmed: bool = about("serial number confirmed", default=False)
    factory_values_match: bool = about("stored factory values match", default=False)


@dataclass(frozen=True, kw_only=True)
class VerifyIn:
    """A verification with a plug-in verifier."""

    tests: tuple[VerifierTest, ...] = about("tests")
    identity: Identity = about("identity", default=Identity())
    reconnected: bool | None = about("reconnection checked and in order", default=None)


@dataclass(frozen=True, kw_only=True)
class TestOut:
    """One test judged."""

    name: str = about("test")
    deviation_percent: Decimal = about("deviation", unit="%", decimals=3)
    passed: bool = about("passed")


@dataclass(frozen=True, kw_only=True)
class VerifyOut:
    """Verified only when everything is."""

    verified: bool = about("verified")
    tests: tuple[TestOut, ...] = about("tests")
    open: tuple[str, ...] = about("still open")


def _verify_picture(i: VerifyIn, o: VerifyOut) -> Picture:
    lines = [
        f"{'✓' if t.passed else '✗'} {t.name}: {show(t.deviation_percent, 2)} %" for t in o.tests
    ]
    return Sketch(
        alt="Tests of the verifier with their result.",
        thing="checklist",
        shares={"done": sum(t.passed for t in o.tests) / len(o.tests)},
        texts={"verdict": "verified" if o.verified else "not verified"},
        lines=(*lines, *(f"□ {text}" for text in o.open)),
    )


@operation(
    "magmeter.verify",
    title="Electromagnetic flow meter: is it verified?",
    family="Flow",
    formula="every |measured − reference| / |reference| ≤ limit, all ticked, reconnected",
    source="rule of this product: only a fully ticked result counts",
    example={
        "tests": [
            {"name": "coil current", "measured": "99.82", "reference": "100"},
            {"name": "coil resistance", "measured": "61.9", "reference": "62.0"},
            {"name": "output at 12 mA", "measured": "12.003", "reference": "12.000"},
        ],
        "identity": {
            "tag_confirmed": True,
            "serial_confirmed": True,
            "factory_values_match": True,
        },
        "reconnected": True,
    },
    words="magmeter magnetic electromagnetic flow verifier coil electrode",
    cautions=("Power off before wiring; discharge yourself before touching electronics.",),
    worked=lambda i, o: [f"{t.name}: {t.deviation_percent:.3f} %" for t in o.tests],
    picture=_verify_picture,
)
def magmeter_verify(request: VerifyIn) -> VerifyOut:
    """Judge all tests, the identity and the reconnection together.

    Raises
    ------
    InputError
        ``tests.too_few``, ``reference.zero``, ``limit_percent.not_positive``.

    References
    ----------
    Rule of this product.
    """
    some(request.tests, "tests", "tests")
    judged = []
    for n, test in enumerate(request.tests):
        positive(test.limit_percent, f"tests.{n}.limit_percent", "limit", "%")
        if test.reference == 0:
            raise InputError(
                "reference.zero",
                f"tests.{n}.reference",
                "The reference is 0: a share of it has no meaning.",
                "Give the stored value of this meter.",
            )
        off = 100 * (test.measured - test.reference) / abs(test.reference)
        judged.append(
            TestOut(name=test.name, deviation_percent=off, passed=abs(off) <= test.limit_percent)
        )
    still = [n.replace("_", " ") for n, there in vars(request.identity).items() if not there]
    still += [f"{t.name} failed" for t in judged if not t.passed]
    if request.reconnected is not True:
        still.append(
            "reconnection failed" if request.reconnected is False else "reconnection check"
        )
    return VerifyOut(verified=not still, tests=tuple(judged), open=tuple(still))
