"""Portable gas chromatograph: the blank after its calibration gas."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from calibration.kernel.checks import not_negative, some
from calibration.kernel.codec import about
from calibration.kernel.pictures import Bar, Bars, Picture
from calibration.kernel.registry import operation


@dataclass(frozen=True, kw_only=True)
class Blank:
    """One component of a blank."""

    name: str = about("component")
    value: float = about("reading", unit="ppm")
    limit: float = about("accepted to", unit="ppm", default=0.0)


@dataclass(frozen=True, kw_only=True)
class BlankIn:
    """A blank injection of clean air or carrier."""

    components: tuple[Blank, ...] = about("components")


@dataclass(frozen=True, kw_only=True)
class BlankOut:
    """Whether the blank is clean."""

    accepted: bool = about("blank accepted")
    failed: tuple[str, ...] = about("components above their limit")
    advice: str = about("advice")


def _blank_picture(i: BlankIn, o: BlankOut) -> Picture:
    return Bars(
        alt="Readings of the blank by component.",
        bars=tuple(
            Bar(
                label=c.name,
                value=max(0.0, c.value),
                text=f"{c.value:g} of {c.limit:g} ppm",
                tone="outside" if c.name in o.failed else "within",
            )
            for c in i.components
        ),
    )


@operation(
    "blank.check",
    title="Is the blank clean?",
    family="Analyzers",
    formula="every reading ≤ its limit",
    source="rule of this product: all zero, carbon dioxide under 8 ppm by default",
    example={
        "components": [
            {"name": "hydrogen", "value": "0"},
            {"name": "methane", "value": "0"},
            {"name": "carbon dioxide", "value": "5.2", "limit": "8"},
        ]
    },
    words="blank zero co2 carbon dioxide clean air trap chromatograph gc",
    cautions=("A blank above its limit: draw again, then through a fresh trap.",),
    worked=lambda i, o: [f"{c.name}: {c.value:g} against {c.limit:g} ppm" for c in i.components],
    picture=_blank_picture,
)
def blank(request: BlankIn) -> BlankOut:
    """Judge a blank injection.

    Raises
    ------
    InputError
        ``components.too_few``, ``limit.negative``.

    References
    ----------
    Rule of this product, editable by the site.
    """
    some(request.components, "components", "components")
    for n, c in enumerate(request.components):
        not_negative(c.limit, f"components.{n}.limit", "limit")
    failed = tuple(c.name for c in request.components if c.value > c.limit + 1e-12)
    return BlankOut(accepted=not failed, failed=failed, advice=_blank_advice(request, failed))


#: Methane of outdoor air, about 1.9 ppm, is read as this much at most. [ppm]
OUTDOOR_METHANE = (1.5, 2.6)


def _blank_advice(request: BlankIn, failed: Sequence[str]) -> str:
    if not failed:
        return "The blank is clean."
    low, high = OUTDOOR_METHANE
    methane = [c.value for c in request.components if c.name == "methane"]
    if tuple(failed) == ("methane",) and methane and low <= methane[0] <= high:
        return (
            "Methane of about 1.9 ppm is that of outdoor air, which no trap holds back: was it "
            "drawn as the manual says? Draw again."
        )
    return "Draw again; where it stays, through a fresh trap."
