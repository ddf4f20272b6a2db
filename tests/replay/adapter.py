"""The state of a job in the shape in which the kept jobs were recorded."""

from __future__ import annotations

from typing import Any

from calibration.kernel.codec import encode

#: Floats are compared to so many digits: another machine's mathematics may differ in the last one.
DIGITS = 12


def recorded_shape(state: Any) -> dict[str, Any]:
    """Return a job's state as plain values in the recorded shape."""
    found: dict[str, Any] = encode(state)
    return found


def flat(value: Any, path: str = "") -> dict[str, Any]:
    """Return nested values as one flat mapping, path to leaf; empty lists are leaves."""
    if isinstance(value, dict) and value:
        return {k: v for name in value for k, v in flat(value[name], f"{path}.{name}").items()}
    if isinstance(value, list) and value:
        return {k: v for i, v_ in enumerate(value) for k, v in flat(v_, f"{path}.{i}").items()}
    if isinstance(value, float):
        return {path: float(f"{value:.{DIGITS}g}")}
    return {path: value}


def changes(before: dict[str, Any], after: dict[str, Any]) -> dict[str, Any]:
    """Return what is new or different; a path that is gone is listed under ``gone``."""
    new = {k: v for k, v in after.items() if k not in before or before[k] != v}
    gone = sorted(k for k in before if k not in after)
    return {**new, **({"gone": gone} if gone else {})}
