"""Parameters that several methods share: limits and settings with the product's defaults."""

from __future__ import annotations

from calibration.engine.method.method import ParameterSpec

_SPECS = (
    ParameterSpec(id="points", label="Points", default="5", kind="points"),
    ParameterSpec(
        id="pattern",
        label="Order of the points",
        default="up_down",
        kind="choice",
        choices=("up", "up_down", "down_up"),
    ),
    ParameterSpec(id="cycles", label="Cycles", default="1", least="1", most="10"),
    ParameterSpec(
        id="overshoot_percent",
        label="Go past the turning point by",
        default="2",
        unit="%",
        most="10",
    ),
    ParameterSpec(
        id="adjust_share",
        label="Adjust limit, share of tolerance",
        default="70",
        unit="%",
        least="1",
        most="100",
    ),
    ParameterSpec(
        id="adjust_to_share",
        label="Adjust to, share of tolerance",
        default="20",
        unit="%",
        least="1",
        most="100",
    ),
    ParameterSpec(
        id="school",
        label="When to adjust",
        default="when_needed",
        kind="choice",
        choices=("when_needed", "always"),
    ),
    ParameterSpec(
        id="decision_rule",
        label="Decision rule",
        default="simple",
        kind="choice",
        choices=("simple", "guarded", "guarded_rss"),
    ),
    ParameterSpec(
        id="minimum_ratio", label="Accuracy ratio wanted", default="4", least="1", most="20"
    ),
    ParameterSpec(id="warm_up_minutes", label="Warm-up", default="15", unit="min", most="2880"),
    ParameterSpec(
        id="stable_band_percent",
        label="Steady within",
        default="0.05",
        unit="% of span",
        least="0.001",
        most="5",
    ),
    ParameterSpec(
        id="stable_dwell_s", label="Steady for", default="5", unit="s", least="1", most="3600"
    ),
    ParameterSpec(
        id="suspect_percent",
        label="Ask about values off by",
        default="5",
        unit="% of span",
        least="0.1",
        most="100",
    ),
    ParameterSpec(
        id="bypass_minutes", label="Bypass at most", default="120", unit="min", least="1"
    ),
    ParameterSpec(
        id="interval_days", label="Interval", default="180", unit="d", least="1", most="3650"
    ),
)


def parameters(
    *more: ParameterSpec, without: tuple[str, ...] = (), **defaults: str
) -> tuple[ParameterSpec, ...]:
    """Return the parameters of a method: the shared ones with its own defaults, and more."""
    shared = [s for s in _SPECS if s.id not in without]
    changed = [
        ParameterSpec(**{**vars(s), "default": defaults[s.id]}) if s.id in defaults else s
        for s in shared
    ]
    return (*changed, *more)


def yes_or_no(id: str, label: str, default: str) -> ParameterSpec:
    """Return a parameter that switches a step on or off."""
    return ParameterSpec(id=id, label=label, default=default, kind="choice", choices=("yes", "no"))
