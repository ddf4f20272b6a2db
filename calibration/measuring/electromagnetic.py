"""Verification of an electromagnetic flow meter with a plug-in tester."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.checks import between, not_negative, positive, some
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Picture, Sketch
from calibration.kernel.registry import operation
from calibration.kernel.rounding import show

#: Change of the resistance of copper with temperature, of its value at 20 °C. [1/°C]
#: IEC 60028:1925, International standard of resistance for copper.
COPPER = Decimal("0.00393")
Line = Literal["percent", "absolute", "at_least", "yes_no"]


@dataclass(frozen=True, kw_only=True)
class VerifierTest:
    """One automatic test of a verifier."""

    name: str = about("test")
    measured: Decimal = about("measured")
    reference: Decimal = about("stored or reference value")
    limit_percent: Decimal = about("allowed deviation", unit="%", default=Decimal(1))
    kind: Line = about("how it is held against the reference", default="percent")
    limit: Decimal | None = about("allowed deviation of an absolute line", default=None)
    coil_c: Decimal | None = about(
        "temperature of the coil; copper is turned to 20 °C", unit="°C", default=None
    )


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
    deviation_percent: Decimal | None = about("deviation", unit="%", decimals=3)
    deviation: Decimal = about("deviation, in its own unit")
    at_20_c: Decimal | None = about("measured, turned to 20 °C", decimals=4)
    share_of_limit_percent: Decimal | None = about("share of its limit", unit="%", decimals=0)
    passed: bool = about("passed")


@dataclass(frozen=True, kw_only=True)
class VerifyOut:
    """Verified only when everything is."""

    verified: bool = about("verified")
    said: str = about("to be written on the paper")
    tests: tuple[TestOut, ...] = about("tests")
    open: tuple[str, ...] = about("still open")


def _verify_picture(i: VerifyIn, o: VerifyOut) -> Picture:
    lines = [
        f"{'✓' if t.passed else '✗'} {t.name}"
        + (f": {show(t.deviation_percent, 2)} %" if t.deviation_percent is not None else "")
        for t in o.tests
    ]
    return Sketch(
        alt="Tests of the verifier with their result.",
        thing="checklist",
        shares={"done": sum(t.passed for t in o.tests) / len(o.tests)},
        texts={"verdict": o.said},
        lines=(*lines, *(f"□ {text}" for text in o.open)),
    )


@operation(
    "magmeter.verify",
    title="Electromagnetic flow meter: is it verified?",
    family="Flow",
    formula="each line by its kind: |measured − reference| / |reference| ≤ limit, "
    "|measured − reference| ≤ limit, measured ≥ reference, or yes;  "
    "R₂₀ = R / (1 + 0.00393 (T − 20))",
    source="copper: IEC 60028; rule of this product: only a fully ticked result is verified",
    example={
        "tests": [
            {"name": "coil current", "measured": "99.82", "reference": "100"},
            {"name": "coil resistance", "measured": "63.1", "reference": "62.0", "coil_c": "24"},
            {
                "name": "insulation",
                "measured": "180",
                "reference": "100",
                "kind": "at_least",
            },
            {
                "name": "output at 12 mA",
                "measured": "12.003",
                "reference": "12.000",
                "kind": "absolute",
                "limit": "0.02",
            },
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
    worked=lambda i, o: [
        f"{t.name}: {show(t.share_of_limit_percent, 0)} % of its limit"
        for t in o.tests
        if t.share_of_limit_percent is not None
    ],
    picture=_verify_picture,
)
def magmeter_verify(request: VerifyIn) -> VerifyOut:
    """Judge all tests, the identity and the reconnection together.

    Raises
    ------
    InputError
        ``tests.too_few``, ``reference.zero``, ``limit_percent.not_positive``, ``limit.missing``,
        ``limit.negative``, ``coil_c.out_of_range``.

    References
    ----------
    IEC 60028 for copper; rule of this product for what counts as verified.
    """
    some(request.tests, "tests", "tests")
    judged = [_judged(test, f"tests.{n}") for n, test in enumerate(request.tests)]
    still = [n.replace("_", " ") for n, there in vars(request.identity).items() if not there]
    still += [f"{t.name} failed" for t in judged if not t.passed]
    if request.reconnected is not True:
        still.append(
            "reconnection failed" if request.reconnected is False else "reconnection check"
        )
    said = "tested, not verified" if still else "verified"
    return VerifyOut(verified=not still, said=said, tests=tuple(judged), open=tuple(still))


def _judged(test: VerifierTest, where: str) -> TestOut:
    """Judge one line by its kind."""
    measured, turned = test.measured, None
    if test.coil_c is not None:
        between(test.coil_c, -100, 250, f"{where}.coil_c", "temperature of the coil", "°C")
        measured = turned = test.measured / (1 + COPPER * (test.coil_c - 20))
    off = measured - test.reference
    percent = 100 * off / abs(test.reference) if test.reference else None
    share: Decimal | None = None
    if test.kind == "yes_no":
        passed = measured == test.reference
    elif test.kind == "at_least":
        passed = measured >= test.reference
        share = 100 * test.reference / measured if measured > 0 else None
    elif test.kind == "absolute":
        if test.limit is None:
            raise InputError(
                "limit.missing",
                f"{where}.limit",
                f"{test.name}: how far it may be off is missing.",
                "Give the limit in the unit of the line.",
            )
        not_negative(test.limit, f"{where}.limit", "limit")
        passed = abs(off) <= test.limit
        share = 100 * abs(off) / test.limit if test.limit else None
    else:
        positive(test.limit_percent, f"{where}.limit_percent", "limit", "%")
        if percent is None:
            raise InputError(
                "reference.zero",
                f"{where}.reference",
                "The reference is 0: a share of it has no meaning.",
                "Give the stored value of this meter, or an absolute limit.",
            )
        passed = abs(percent) <= test.limit_percent
        share = 100 * abs(percent) / test.limit_percent
    return TestOut(
        name=test.name,
        deviation_percent=percent,
        deviation=off,
        at_20_c=turned,
        share_of_limit_percent=share,
        passed=passed,
    )
