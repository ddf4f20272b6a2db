"""Portable gas chromatograph: repeat injections, retention times, blanks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
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
    judged = tuple(_agreement(c, request.limit_percent) for c in request.components)
    sizes = [c.difference_percent for c in judged if c.difference_percent is not None]
    # A component that is in neither has nothing to agree about; one at least has to be there.
    agree = bool(sizes) and not any(c.within is False for c in judged)
    action: Next = "accept" if count > 1 and agree else "recondition"
    if action == "recondition" and count < 3:
        action = "inject_again"
    return InjectionsOut(
        next_action=action,
        advice=NEXT[action],
        accepted_pair=(count - 1, count) if action == "accept" else (),
        worst_percent=max(sizes) if sizes else None,
        components=judged,
    )


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
        within=off <= limit * (1 + 1e-12),
        from_mean_percent=spread,
    )


@dataclass(frozen=True, kw_only=True)
class Peak:
    """One component's retention time."""

    name: str = about("component")
    expected_s: float = about("expected", unit="s")
    seen_s: float = about("seen", unit="s")


@dataclass(frozen=True, kw_only=True)
class RetentionIn:
    """Retention times of one injection."""

    peaks: tuple[Peak, ...] = about("components")
    window_percent: float = about("window, plus or minus", unit="%", default=3.0)


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
    formula="shift % = 100 × (seen − expected) / expected, against the window",
    source="rule of this product: a shift of all one way says moisture or flow",
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
        ``window_percent.not_positive``.

    References
    ----------
    Rule of this product, editable by the site.
    """
    some(request.peaks, "peaks", "components")
    positive(request.window_percent, "window_percent", "window", "%")
    judged = []
    for n, p in enumerate(request.peaks):
        positive(p.expected_s, f"peaks.{n}.expected_s", "expected time", "s")
        positive(p.seen_s, f"peaks.{n}.seen_s", "time seen", "s")
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
    return RetentionOut(
        within=all(p.within for p in judged),
        mean_shift_percent=fmean(shifts),
        advice=_retention_advice(shifts, request.window_percent),
        peaks=tuple(judged),
    )


def _retention_advice(shifts: Sequence[float], window: float) -> str:
    if all(abs(s) <= window for s in shifts):
        return "All components are where they belong."
    one_way = all(s > 0 for s in shifts) or all(s < 0 for s in shifts)
    if one_way and len(shifts) > 1:
        later = "later" if shifts[0] > 0 else "earlier"
        return f"All come {later}: moisture on the column or a changed flow. Recondition first."
    return "Single components moved: check the gas, the injection and the peak assignment."


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
    cautions=("A blank above its limit: draw again through a fresh trap.",),
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
    return BlankOut(
        accepted=not failed,
        failed=failed,
        advice="The blank is clean." if not failed else "Draw again through a fresh trap.",
    )
