"""Portable gas chromatograph: repeat injections and retention times."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from statistics import fmean
from typing import Literal

from calibration.kernel.checks import not_negative, positive, some
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Band, Bar, Bars, Chart, Picture, Rule, Series, Spot
from calibration.kernel.registry import operation

Next = Literal["inject_again", "accept", "recondition"]
NEXT = {
    "inject_again": "Inject again; the last two injections will count.",
    "accept": "Accept the last two injections.",
    "recondition": "Three do not agree: check for leaks and recondition the column first.",
}


@dataclass(frozen=True, kw_only=True)
class ComponentRuns:
    """One component over the injections."""

    name: str = about("component")
    values: tuple[float, ...] = about("value of each injection")
    floor: float = about("difference that means nothing", unit="as the values", default=0.0)


@dataclass(frozen=True, kw_only=True)
class InjectionsIn:
    """All components of two or more injections of one gas."""

    components: tuple[ComponentRuns, ...] = about("components")
    limit_percent: float = about("difference accepted to", unit="%", default=2.5)


@dataclass(frozen=True, kw_only=True)
class ComponentAgreement:
    """One component of the last two injections."""

    name: str = about("component")
    mean: float | None = about("mean of the pair")
    difference_percent: float | None = about("difference", unit="% of mean", decimals=2)
    within: bool | None = about("within")
    from_mean_percent: tuple[float, ...] = about("each against their mean", unit="%", decimals=2)


@dataclass(frozen=True, kw_only=True)
class InjectionsOut:
    """Whether two agree, and what to do next."""

    next_action: Next = about("next")
    advice: str = about("advice")
    accepted_pair: tuple[int, ...] = about("injections that count")
    one_ratio: bool = about("all components are off by one ratio")
    worst_percent: float | None = about("largest difference", unit="% of mean", decimals=2)
    components: tuple[ComponentAgreement, ...] = about("components")


def _injections_picture(i: InjectionsIn, o: InjectionsOut) -> Picture | None:
    known = [c for c in o.components if c.difference_percent is not None]
    if not known:
        return None
    return Bars(
        alt="Difference of the last two injections by component, against the limit.",
        bars=tuple(
            Bar(
                label=c.name,
                value=abs(c.difference_percent or 0.0),
                text=f"{c.difference_percent:.2f} %",
                tone="within" if c.within else "outside",
            )
            for c in known
        ),
        limit=i.limit_percent,
        limit_label=f"{i.limit_percent:g} %",
    )


@operation(
    "injections.compare",
    title="Do the injections agree?",
    family="Analyzers",
    formula="difference % = 100 × |a − b| / mean(a, b), of the last two injections",
    source="rule of this product: 2.5 % by default, else a third, then the last two count",
    example={
        "components": [
            {"name": "hydrogen", "values": ["512", "508"]},
            {"name": "methane", "values": ["498", "503"]},
            {"name": "ethylene", "values": ["51.2", "49.4"]},
        ]
    },
    words="injection chromatograph dissolved gas repeat third component gc",
    cautions=("Leak test before each injection; the plunger must spring back.",),
    worked=lambda i, o: [
        f"{c.name}: mean {c.mean:.5g}, difference {c.difference_percent:.2f} %"
        for c in o.components
        if c.mean is not None
    ],
    picture=_injections_picture,
)
def compare(request: InjectionsIn) -> InjectionsOut:
    """Compare the last two injections of every component.

    Raises
    ------
    InputError
        ``components.too_few``, ``values.too_few``, ``values.lengths``, ``values.negative``,
        ``limit_percent.not_positive``.

    References
    ----------
    Rule of this product, editable by the site.
    """
    some(request.components, "components", "components")
    positive(request.limit_percent, "limit_percent", "limit", "%")
    count = len(request.components[0].values)
    for n, c in enumerate(request.components):
        some(c.values, f"components.{n}.values", "values")
        if len(c.values) != count:
            raise InputError(
                "values.lengths",
                f"components.{n}.values",
                f"{c.name} has {len(c.values)} values, the first component {count}.",
                "Give one value per injection for every component.",
            )
        for v in c.values:
            not_negative(v, f"components.{n}.values", "value")
        not_negative(c.floor, f"components.{n}.floor", "difference that means nothing")
    judged = tuple(_agreement(c, request.limit_percent) for c in request.components)
    sizes = [c.difference_percent for c in judged if c.difference_percent is not None]
    # A component that is in neither has nothing to agree about; one at least has to be there.
    agree = bool(sizes) and not any(c.within is False for c in judged)
    action: Next = "accept" if count > 1 and agree else "recondition"
    if action == "recondition" and count < 3:
        action = "inject_again"
    one_ratio = not agree and _one_ratio(request)
    return InjectionsOut(
        next_action=action,
        advice=" ".join(filter(None, (NEXT[action], _why(judged, one_ratio)))),
        one_ratio=one_ratio,
        accepted_pair=(count - 1, count) if action == "accept" else (),
        worst_percent=max(sizes) if sizes else None,
        components=judged,
    )


def _one_ratio(request: InjectionsIn) -> bool:
    """Tell whether all components changed by one ratio between the last two injections."""
    pairs = [c.values[-2:] for c in request.components if len(c.values) > 1]
    ratios = [b / a for a, b in pairs if a > 0 and b > 0]
    if len(ratios) < 2 or len(ratios) < len(pairs):
        return False
    mean = fmean(ratios)
    return all(abs(r - mean) <= mean * request.limit_percent / 100 for r in ratios)


def _why(judged: Sequence[ComponentAgreement], one_ratio: bool) -> str:
    """Return what a disagreement looks like; empty where all agree."""
    off = [c.name for c in judged if c.within is False]
    if one_ratio:
        return "All are off by one ratio: the volume injected, or a leak."
    return f"{off[0].capitalize()} alone is off: look at its separation." if len(off) == 1 else ""


def _agreement(c: ComponentRuns, limit: float) -> ComponentAgreement:
    mean_all = fmean(c.values)
    spread = tuple(100 * (v - mean_all) / mean_all for v in c.values) if mean_all else ()
    if len(c.values) < 2 or not sum(c.values[-2:]):
        return ComponentAgreement(
            name=c.name, mean=None, difference_percent=None, within=None, from_mean_percent=spread
        )
    a, b = c.values[-2:]
    mean = (a + b) / 2
    off = 100 * abs(a - b) / mean
    return ComponentAgreement(
        name=c.name,
        mean=mean,
        difference_percent=off,
        within=off <= limit * (1 + 1e-12) or abs(a - b) <= c.floor * (1 + 1e-12),
        from_mean_percent=spread,
    )


@dataclass(frozen=True, kw_only=True)
class Peak:
    """One component's retention time."""

    name: str = about("component")
    expected_s: float = about("expected", unit="s")
    seen_s: float = about("seen", unit="s")
    width_s: float | None = about("width at its base", unit="s", default=None)


@dataclass(frozen=True, kw_only=True)
class RetentionIn:
    """Retention times of one injection."""

    peaks: tuple[Peak, ...] = about("components")
    window_percent: float = about("window, plus or minus", unit="%", default=3.0)
    least_resolution: float = about("resolution wanted between neighbours", default=1.5)


@dataclass(frozen=True, kw_only=True)
class PeakOut:
    """One retention time judged."""

    name: str = about("component")
    shift_s: float = about("shift", unit="s", decimals=2)
    shift_percent: float = about("shift", unit="%", decimals=2)
    within: bool = about("in its window")


@dataclass(frozen=True, kw_only=True)
class RetentionOut:
    """All of them together."""

    within: bool = about("all in their windows")
    mean_shift_percent: float = about("mean shift", unit="%", decimals=2)
    resolution: float | None = about("least resolution of neighbours", decimals=2)
    closest: str | None = about("neighbours that are closest")
    advice: str = about("advice")
    peaks: tuple[PeakOut, ...] = about("components")


def _retention_picture(i: RetentionIn, o: RetentionOut) -> Picture:
    w = i.window_percent
    points = tuple((p.expected_s, q.shift_percent) for p, q in zip(i.peaks, o.peaks, strict=True))
    return Chart(
        alt="Shift of the retention times over the run, with the window.",
        x_label="Expected retention [s]",
        y_label="Shift [%]",
        series=(Series(points=points, style="dots"),),
        spots=tuple(
            Spot(x=x, y=y, label=q.name, tone="accent" if q.within else "outside")
            for (x, y), q in zip(points, o.peaks, strict=True)
        ),
        bands=(Band(axis="y", start=-w, end=w),),
        rules=(Rule(axis="y", at=0.0),),
    )


@operation(
    "retention.check",
    title="Have the retention times shifted?",
    family="Analyzers",
    formula="shift % = 100 × (seen − expected) / expected;  R = 2 Δt / (w₁ + w₂)",
    source="resolution of base widths: IUPAC, Pure Appl. Chem. 65 (1993) 819; the rest is a rule "
    "of this product",
    example={
        "peaks": [
            {"name": "hydrogen", "expected_s": "28.0", "seen_s": "28.9"},
            {"name": "methane", "expected_s": "61.5", "seen_s": "63.6"},
            {"name": "ethylene", "expected_s": "118.0", "seen_s": "122.4"},
        ],
        "window_percent": "3",
    },
    words="retention time shift moisture column chromatograph gc peak",
    cautions=("Recondition first: a shifted run names the wrong component.",),
    worked=lambda i, o: [
        f"{p.name}: {p.shift_s:+.2f} s, {p.shift_percent:+.2f} %" for p in o.peaks
    ],
    picture=_retention_picture,
)
def retention(request: RetentionIn) -> RetentionOut:
    """Judge retention times against their windows.

    Raises
    ------
    InputError
        ``peaks.too_few``, ``expected_s.not_positive``, ``seen_s.not_positive``,
        ``window_percent.not_positive``, ``least_resolution.not_positive``,
        ``width_s.not_positive``.

    References
    ----------
    Resolution of neighbours R = 2 Δt / (w₁ + w₂), of base widths: IUPAC, Nomenclature for
    chromatography, Pure Appl. Chem. 65 (1993) 819. The windows are a rule of this product.
    """
    some(request.peaks, "peaks", "components")
    positive(request.window_percent, "window_percent", "window", "%")
    positive(request.least_resolution, "least_resolution", "resolution")
    judged = []
    for n, p in enumerate(request.peaks):
        positive(p.expected_s, f"peaks.{n}.expected_s", "expected time", "s")
        positive(p.seen_s, f"peaks.{n}.seen_s", "time seen", "s")
        if p.width_s is not None:
            positive(p.width_s, f"peaks.{n}.width_s", "width", "s")
        off = 100 * (p.seen_s - p.expected_s) / p.expected_s
        judged.append(
            PeakOut(
                name=p.name,
                shift_s=p.seen_s - p.expected_s,
                shift_percent=off,
                within=abs(off) <= request.window_percent * (1 + 1e-12),
            )
        )
    shifts = [p.shift_percent for p in judged]
    resolution, closest = _closest(request.peaks)
    apart = resolution is None or resolution >= request.least_resolution
    said = _retention_advice(request.peaks, shifts, request.window_percent)
    if not apart:
        said = f"{closest} are no longer apart (R {resolution:.2f}). {said}"
    return RetentionOut(
        within=all(p.within for p in judged) and apart,
        mean_shift_percent=fmean(shifts),
        resolution=resolution,
        closest=closest,
        advice=said,
        peaks=tuple(judged),
    )


def _closest(peaks: Sequence[Peak]) -> tuple[float | None, str | None]:
    """Return the least resolution of neighbours, and which they are; none without widths."""
    known = sorted((p for p in peaks if p.width_s is not None), key=lambda p: p.seen_s)
    found = [
        (2 * (b.seen_s - a.seen_s) / ((a.width_s or 0.0) + (b.width_s or 0.0)), a, b)
        for a, b in pairwise(known)
    ]
    if not found:
        return None, None
    least, one, other = min(found, key=lambda x: x[0])
    return least, f"{one.name.capitalize()} and {other.name}"


#: A peak scatters by this share of its window.
SCATTER = 1 / 6
#: Shifts count as one percentage when they differ by no more than this share of their mean.
ALIKE = 0.25


def _retention_advice(peaks: Sequence[Peak], shifts: Sequence[float], window: float) -> str:
    if all(abs(s) <= window for s in shifts):
        return "All components are where they belong."
    # Small ones are the scatter of a peak: they speak neither for nor against.
    moved = [s for s in shifts if abs(s) > window * SCATTER]
    one_way = all(s > 0 for s in moved) or all(s < 0 for s in moved)
    if not one_way or len(moved) < 2:
        return "Single components moved: check the gas, the injection and the peak assignment."
    later, mean = ("later" if moved[0] > 0 else "earlier"), fmean(shifts)
    if all(abs(s - mean) <= ALIKE * abs(mean) for s in shifts):
        return f"All come {later} by one percentage: carrier flow or temperature. Check them first."
    grows = [s for _, s in sorted(zip((p.expected_s for p in peaks), shifts, strict=True))]
    slack = window * SCATTER
    if (
        mean > 0
        and all(b >= a - slack for a, b in pairwise(grows))
        and grows[-1] > grows[0] + slack
    ):
        return "The later a peak, the more it is late: moisture on the column. Recondition first."
    return f"All come {later}: moisture on the column or a changed flow. Recondition first."
