"""Pictures of the operations about signals, runs and decisions."""

from __future__ import annotations

import math

from calibration.decisions import decision, reference, uncertainty
from calibration.kernel.pictures import (
    Band,
    Bar,
    Bars,
    Chart,
    Picture,
    Rule,
    Series,
    Spot,
    Tone,
    sampled,
)
from calibration.kernel.registry import picture_of
from calibration.runs import adjustment, chain, points, run, slips
from calibration.runs import screws as screws_of
from calibration.signals import response, stability, transfer


@picture_of("signal.scale")
def scale(i: transfer.ScaleIn, o: transfer.ScaleOut) -> Picture:
    """Return the transfer curve with the working point."""
    low, high = float(i.input_lower), float(i.input_upper)
    start, end = float(i.output_lower), float(i.output_upper)

    def output(x: float) -> float:
        share = (x - low) / (high - low)
        if i.curve is not None:
            bottom, top = i.curve_ends
            share = (i.curve.value(x) - bottom) / (top - bottom)
        elif i.characteristic == "square_root":
            share = math.sqrt(max(share, 0))
        return start + share * (end - start)

    return Chart(
        alt=f"Transfer curve with the working point {o.input:g}, {o.output:g}.",
        x_label="Input",
        y_label="Output",
        series=(Series(points=sampled(output, low, high)),),
        spots=(
            Spot(
                x=float(o.input),
                y=float(o.output),
                label=f"{o.percent:.4g} %",
                tone="outside" if o.clipped else "accent",
            ),
        ),
    )


@picture_of("run.plan")
def plan(i: points.PlanIn, o: points.PlanOut) -> Picture:
    """Return the points in their order."""
    stops = tuple((float(n), float(p.nominal_percent)) for n, p in enumerate(o.points, 1))
    return Chart(
        alt=f"{len(stops)} points in the order of the run.",
        x_label="Point",
        y_label="Nominal [% of span]",
        series=(
            Series(points=stops, style="dash", tone="muted"),
            Series(points=stops, style="dots"),
        ),
    )


@picture_of("run.evaluate")
def evaluate(i: run.EvaluateIn, o: run.EvaluateOut) -> Picture:
    """Return error against range, up and down apart, in the tolerance corridor."""
    series: list[Series] = []
    for way in ("up", "down"):
        points = tuple(
            (float(p.nominal_percent), float(p.error_percent_of_span))
            for p in o.points
            if p.direction == way
        )
        if points:
            style: Tone = "accent" if way == "up" else "edge"
            series.append(Series(points=points, name=way, tone=style))
            series.append(Series(points=points, style="dots", tone=style))
    limit = min(float(p.limit_percent) for p in o.points)
    return Chart(
        alt=f"Errors of the run, {o.summary.verdict}.",
        x_label="Range [%]",
        y_label="Error [% of span]",
        series=tuple(series),
        bands=(Band(axis="y", start=-limit, end=limit, label="within"),),
        rules=(Rule(axis="y", at=0.0),),
    )


@picture_of("chain.locate")
def locate(i: chain.LocateIn, o: chain.LocateOut) -> Picture:
    """Return the error that each hop adds."""
    return Bars(
        alt="Largest error that each hop of the loop adds by itself.",
        bars=tuple(
            Bar(
                label=hop.name.replace("_", " "),
                value=abs(float(hop.max_error_percent)),
                text=f"{hop.max_error_percent:+.3f} %",
                tone="within" if hop.within else "outside",
            )
            for hop in o.hops
        ),
    )


@picture_of("adjust.plan")
def adjust(i: adjustment.AdjustIn, o: adjustment.AdjustOut) -> Picture:
    """Return the errors of zero and span over the passes."""
    passes = [(i.zero_error_percent, i.span_error_percent)]
    passes += [(p.zero_error_percent, p.span_error_percent) for p in i.passes]
    limit = float(i.limit_percent)
    series: list[Series] = []
    tones: tuple[tuple[str, Tone], ...] = (("zero", "accent"), ("span", "edge"))
    for k, (name, tone) in enumerate(tones):
        points = tuple((float(n), float(p[k])) for n, p in enumerate(passes))
        series.append(Series(points=points, name=name, tone=tone))
        series.append(Series(points=points, style="dots", tone=tone))
    return Chart(
        alt="Errors of zero and span after each pass.",
        x_label="Pass",
        y_label="Error [% of span]",
        series=tuple(series),
        bands=(Band(axis="y", start=-limit, end=limit, label="close enough"),),
    )


@picture_of("adjust.screws")
def screws(i: screws_of.ScrewsIn, o: screws_of.ScrewsOut) -> Picture:
    """Return the errors of both ends over the visits, as read on arrival and as set."""
    ends: dict[str, list[tuple[float, float]]] = {
        "zero": [(0.0, float(i.zero_error_percent))],
        "span": [(0.0, float(i.span_error_percent))],
    }
    for n, visit in enumerate(i.visits, start=1):
        for shift, error in ((0.0, visit.before_percent), (0.3, visit.after_percent)):
            if error is not None:
                ends[visit.end].append((n + shift, float(error)))
    tones: dict[str, Tone] = {"zero": "accent", "span": "edge"}
    limit = float(i.limit_percent)
    return Chart(
        alt="Errors of both ends over the visits.",
        x_label="Visit",
        y_label="Error [% of span]",
        series=tuple(
            Series(points=tuple(points), name=end, tone=tones[end], style=style)
            for end, points in ends.items()
            for style in ("line", "dots")
        ),
        bands=(Band(axis="y", start=-limit, end=limit, label="close enough"),),
    )


@picture_of("stability.assess")
def steady(i: stability.AssessIn, o: stability.AssessOut) -> Picture:
    """Return the signal with its band over the dwell."""
    points = tuple((s.t, s.value) for s in i.samples)
    return Chart(
        alt="Signal over time with the band around its mean.",
        x_label="Time [s]",
        y_label="Value",
        series=(Series(points=points), Series(points=points, style="dots")),
        bands=(
            Band(
                axis="y",
                start=o.mean - i.band,
                end=o.mean + i.band,
                tone="within" if o.stable else "edge",
                label="band",
            ),
        ),
        rules=(Rule(axis="x", at=points[-1][0] - i.dwell_s, label="dwell"),),
    )


@picture_of("uncertainty.combine")
def budget(i: uncertainty.CombineIn, o: uncertainty.CombineOut) -> Picture:
    """Return the shares of the variance."""
    return Bars(
        alt="Share of each contribution in the variance.",
        bars=tuple(
            Bar(label=s.name, value=s.share_percent, text=f"{s.share_percent:.1f} %")
            for s in o.shares
        ),
    )


@picture_of("decision.assess")
def verdict(i: decision.AssessIn, o: decision.AssessOut) -> Picture:
    """Return the bell curve over the limits, with the part outside."""
    u = i.expanded_uncertainty / i.k
    wide = max(1.4 * i.limit, abs(i.error) + 4 * u)
    bell: tuple[Series, ...] = ()
    if u > 0:

        def density(x: float) -> float:
            return math.exp(-0.5 * ((x - i.error) / u) ** 2)

        low, high = max(-wide, i.error - 4.5 * u), min(wide, i.error + 4.5 * u)
        bell = (Series(points=sampled(density, low, high, 80), fill=True),)
    return Chart(
        alt=f"Where the true error may lie; {100 * o.probability_outside:.3g} % is outside.",
        x_label="Error",
        y_label="",
        series=(*bell, Series(points=((-wide, 0.0), (wide, 0.0)), tone="muted")),
        spots=(Spot(x=i.error, y=1.0 if bell else 0.0, label=f"error {i.error:g}"),),
        bands=(
            Band(axis="x", start=-wide, end=-i.limit, tone="outside", label="outside"),
            Band(axis="x", start=i.limit, end=wide, tone="outside", label="outside"),
        ),
        rules=(
            Rule(axis="x", at=-o.acceptance_limit, label="passes from"),
            Rule(axis="x", at=o.acceptance_limit, label="to"),
        )
        if o.acceptance_limit is not None
        else (),
    )


@picture_of("reference.adequacy")
def adequate(i: reference.AdequacyIn, o: reference.AdequacyOut) -> Picture:
    """Return the references' limits beside the tolerance."""
    bars = [
        Bar(
            label=c.name,
            value=float(c.reference_limit),
            text=f"{c.reference_limit:.4g}"
            + (f", {c.ratio:.1f} to 1" if c.ratio is not None else ""),
            tone="within" if c.ok else "outside",
        )
        for c in o.candidates
    ]
    tolerance = float(i.device_tolerance)
    bars.append(
        Bar(label="tolerance", value=tolerance, text=f"{i.device_tolerance:g}", tone="muted")
    )
    return Bars(
        alt="Limits of the references beside the tolerance of the instrument.",
        bars=tuple(bars),
        limit=tolerance / float(i.minimum_ratio) if i.minimum_ratio > 0 else None,
        limit_label=f"{i.minimum_ratio:g} to 1",
    )


@picture_of("response.step")
def step(i: response.StepIn, o: response.StepOut) -> Picture:
    """Return the response to the step with the time asked for."""
    end = max(i.t_s, o.time_to_within_s) * 1.15

    def value(t: float) -> float:
        return i.end + (i.start - i.end) * math.exp(-t / o.tau_s)

    share = abs(i.end - i.start) * i.within_percent / 100
    return Chart(
        alt=f"Response after a step; within {i.within_percent:g} % after "
        f"{o.time_to_within_s:.1f} s.",
        x_label="Time since the step [s]",
        y_label="Value",
        series=(Series(points=sampled(value, 0, end)),),
        bands=(Band(axis="y", start=i.end - share, end=i.end + share, label="arrived"),),
        rules=(Rule(axis="x", at=o.time_to_within_s, label=f"{o.time_to_within_s:.3g} s"),),
        spots=(Spot(x=i.t_s, y=o.value, label=f"{o.value:.4g}"),),
    )


@picture_of("slip.detect")
def slip(i: slips.DetectIn, o: slips.DetectOut) -> Picture:
    """Return typed, expected and suggested on one line."""
    spots = [
        Spot(
            x=float(i.reading),
            y=0.0,
            label=f"typed {i.reading:g}",
            tone="outside" if o.kind else "within",
        ),
        Spot(x=float(i.expected), y=0.0, label=f"expected {i.expected:g}", tone="muted"),
    ]
    if o.suggestion is not None:
        spots.append(Spot(x=float(o.suggestion), y=0.0, label=f"meant? {o.suggestion:g}"))
    low, high = min(s.x for s in spots), max(s.x for s in spots)
    pad = (high - low or 1.0) * 0.2
    return Chart(
        alt="The value typed beside the one expected.",
        x_label="Value",
        y_label="",
        series=(Series(points=((low - pad, 0.0), (high + pad, 0.0)), tone="muted"),),
        spots=tuple(spots),
    )


@picture_of("run.diagnose")
def diagnosed(i: run.EvaluateIn, o: object) -> Picture | None:
    """Return the picture of the run that is diagnosed."""
    return evaluate(i, run.evaluate(i))
