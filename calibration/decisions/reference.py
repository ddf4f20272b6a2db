"""Is the reference good enough for this instrument?"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, ZERO
from calibration.kernel.registry import operation

#: How a reference begins to be refused that does not reach the point.
TOO_SMALL, TOO_HIGH = "Too small:", "Too high:"
#: Above this many times nobody asks for a tenth.
FEW = Decimal(10)


@dataclass(frozen=True, kw_only=True)
class Spec:
    """What the maker or the certificate of a reference promises; the terms add up."""

    percent_of_reading: Decimal = about("share of the value", unit="%", default=ZERO)
    percent_of_full_scale: Decimal = about("share of full scale", unit="%", default=ZERO)
    absolute: Decimal = about("fixed term", unit="reference unit", default=ZERO)
    resolution: Decimal = about("smallest step", unit="reference unit", default=ZERO)
    full_scale: Decimal = about("end of its range", unit="reference unit")
    lowest: Decimal | None = about(
        "where its range begins; none where it has no lower end",
        unit="reference unit",
        default=None,
    )


@dataclass(frozen=True, kw_only=True)
class Candidate:
    """A reference that might be used."""

    name: str = about("how it is called")
    spec: Spec = about("its accuracy")


@dataclass(frozen=True, kw_only=True)
class AdequacyIn:
    """One or several references against one limit at one point."""

    candidates: tuple[Candidate, ...] = about("references to compare", label="references")
    at: Decimal = about("value at the point", label="at", unit="reference unit")
    device_tolerance: Decimal = about(
        "limit of the instrument there", label="limit of the instrument", unit="reference unit"
    )
    minimum_ratio: Decimal = about("accuracy ratio wanted", default=Decimal(4))


@dataclass(frozen=True, kw_only=True)
class Adequacy:
    """One reference judged."""

    name: str = about("how it is called")
    reference_limit: Decimal = about("its own limit of error", unit="reference unit")
    ratio: Decimal | None = about("device tolerance over reference limit", label="ratio")
    ok: bool = about("ratio reaches the minimum and the point is in its range", label="ok")
    why_not: str = about("empty when ok", label="why not")


@dataclass(frozen=True, kw_only=True)
class AdequacyOut:
    """All candidates and the best of those that will do."""

    candidates: tuple[Adequacy, ...] = about("same order as given", label="references")
    best: str | None = about("highest ratio among those that are ok", label="best that will do")


def limit_of(spec: Spec, at: Decimal) -> Decimal:
    """Return the limit of error of a reference at a value, without its resolution. [its unit]

    >>> meter = Spec(percent_of_reading=Decimal("0.05"), absolute=Decimal("0.004"),
    ...              full_scale=Decimal(22))
    >>> limit_of(meter, Decimal(20))
    Decimal('0.014')
    """
    return (
        spec.percent_of_reading * abs(at) / HUNDRED
        + spec.percent_of_full_scale * abs(spec.full_scale) / HUNDRED
        + spec.absolute
    )


@operation(
    "reference.adequacy",
    title="Is the reference good enough?",
    family="Limits and decisions",
    words="accuracy ratio tur tar 4 to 1 standard good enough calibrator",
    formula="ratio = device tolerance / (% of reading + % of full scale + fixed term)",
    source="accuracy ratio rule, default 4 to 1; JCGM 106:2012 for what it protects from",
    example={
        "candidates": [
            {"name": "module A", "spec": {"percent_of_full_scale": "0.025", "full_scale": "7000"}}
        ],
        "at": "4000",
        "device_tolerance": "20",
    },
)
def adequacy(request: AdequacyIn) -> AdequacyOut:
    """Compare references by accuracy ratio at one point.

    Raises
    ------
    InputError
        ``candidates.none``, ``tolerance.not_positive``.

    References
    ----------
    Simple acceptance with a minimum accuracy ratio.
    """
    if not request.candidates:
        raise InputError("candidates.none", "candidates", "No reference given.", "Name one.")
    if request.device_tolerance <= 0:
        raise InputError(
            "tolerance.not_positive",
            "device_tolerance",
            "The tolerance must be above 0.",
            "Give the limit of the instrument.",
        )
    judged = tuple(_judge(c, request) for c in request.candidates)
    fit = [a for a in judged if a.ok]
    best = max(fit, key=lambda a: a.ratio if a.ratio is not None else HUNDRED**9, default=None)
    return AdequacyOut(candidates=judged, best=best.name if best else None)


def _judge(candidate: Candidate, request: AdequacyIn) -> Adequacy:
    limit = limit_of(candidate.spec, request.at)
    ratio = request.device_tolerance / limit if limit else None
    why = ""
    if abs(request.at) > abs(candidate.spec.full_scale):
        why = f"{TOO_SMALL} it ends at {candidate.spec.full_scale}."
    elif candidate.spec.lowest is not None and request.at < candidate.spec.lowest:
        why = f"{TOO_HIGH} it begins at {candidate.spec.lowest}."
    elif ratio is not None and ratio < request.minimum_ratio:
        why = f"Accuracy ratio {ratio:.1f} to 1 is below {request.minimum_ratio} to 1."
    return Adequacy(
        name=candidate.name, reference_limit=limit, ratio=ratio, ok=not why, why_not=why
    )


def out_of_range(judged: Adequacy) -> bool:
    """Tell whether a reference does not reach the point at all, however accurate it is.

    >>> small = Candidate(name="0 to 10 bar", spec=Spec(full_scale=Decimal(10)))
    >>> asked = AdequacyIn(candidates=(small,), at=Decimal(16), device_tolerance=Decimal(1))
    >>> out_of_range(adequacy(asked).candidates[0])
    True
    """
    return judged.why_not.startswith((TOO_SMALL, TOO_HIGH))


def more_accurate(ratio: Decimal | None) -> str:
    """Return an accuracy ratio in words; empty where there is none.

    >>> more_accurate(Decimal("22.2"))
    '22 times more accurate'
    >>> more_accurate(Decimal("2.83"))
    '2.8 times more accurate'
    """
    if ratio is None:
        return ""
    places = 0 if ratio >= FEW else 1
    return f"{ratio:.{places}f} times more accurate" if ratio > 1 else "less accurate than it"
