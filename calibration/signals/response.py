"""First-order response to a step."""

from __future__ import annotations

import math
from dataclasses import dataclass

from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.registry import operation


@dataclass(frozen=True, kw_only=True)
class StepIn:
    """A step, and exactly one way to say how fast the instrument is."""

    tau_s: float | None = about("time constant", unit="s", default=None)
    t63_s: float | None = about("time to 63.2 %", unit="s", default=None)
    t90_s: float | None = about("time to 90 %", unit="s", default=None)
    start: float = about("value before the step", unit="any")
    end: float = about("value it settles to", unit="same")
    t_s: float = about("time since the step", label="time since the step", unit="s")
    within_percent: float = about(
        "how close counts as arrived", label="arrived within", unit="% of step", default=1.0
    )


@dataclass(frozen=True, kw_only=True)
class StepOut:
    """The value now and the wait until it has arrived."""

    value: float = about("value at that time", label="value then", unit="any")
    tau_s: float = about("time constant", unit="s")
    time_to_within_s: float = about(
        "from the step until within that share of it", label="arrived after", unit="s"
    )


@operation(
    "response.step",
    title="How long until it has arrived?",
    family="Signals and loops",
    words="time constant t90 t63 lag settle first order wait damping",
    one_of=("tau_s", "t63_s", "t90_s"),
    worked=lambda i, o: [
        f"τ = {o.tau_s:.4g} s",
        f"{i.end:g} + ({i.start:g} − {i.end:g}) × e^(−{i.t_s:g}/{o.tau_s:.4g}) = {o.value:.5g}",
    ],
    formula="value = end + (start − end) e^(−t/τ); t63 = τ; t90 = τ ln 10",
    source="first-order lag, e.g. IEC 61298-2, dynamic behaviour",
    example={"t90_s": 30, "start": 0, "end": 50, "t_s": 30, "within_percent": 1},
)
def step(request: StepIn) -> StepOut:
    """Return the first-order response at a time, and the time to come within a share.

    Raises
    ------
    InputError
        ``speed.one_needed``, ``speed.not_positive``, ``time.negative``, ``within.range``.

    References
    ----------
    Solution of τ·y' = end − y.
    """
    given = [v for v in (request.tau_s, request.t63_s, request.t90_s) if v is not None]
    if len(given) != 1:
        raise InputError(
            "speed.one_needed", "tau_s", f"{len(given)} speeds are given.", "Give exactly one."
        )
    tau = given[0] / math.log(10) if request.t90_s is not None else given[0]
    if tau <= 0:
        raise InputError("speed.not_positive", "tau_s", "The time must be above 0.", "Use s.")
    if request.t_s < 0:
        raise InputError("time.negative", "t_s", "The time is before the step.", "Use 0 or more.")
    if not 0 < request.within_percent < 100:
        raise InputError("within.range", "within_percent", "Must be in 0 to 100.", "Use e.g. 1.")
    value = request.end + (request.start - request.end) * math.exp(-request.t_s / tau)
    return StepOut(
        value=value, tau_s=tau, time_to_within_s=-tau * math.log(request.within_percent / 100)
    )
