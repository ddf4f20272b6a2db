"""The verdict on a gas detector as sentences, and what may be decided."""

from __future__ import annotations

from calibration.engine.evaluation import RunFigures
from calibration.engine.job import Job
from calibration.engine.view.state import Choice
from calibration.families.gas.gases import SUFFIX, gases_of, shows
from calibration.families.gas.view import OUTCOMES, outcome_at
from calibration.kernel.numbers import HUNDRED
from calibration.kernel.rounding import show

#: Causes that setting zero and span can cure. All others are put right first.
SETTABLE = ("aged", "span_error", "zero_shift")
#: Causes for which the sensor is replaced.
SPENT = ("poisoned", "saturated")
_WORST = {"none": -1, "within": 0, "near": 1, "outside": 2}


def channel_runs(job: Job, stage: str) -> list[RunFigures]:
    """Return the figures of a stage, one a channel."""
    wanted = [r for r in job.ledger.method.runs if r.id.startswith(stage)]
    count = len(job.ledger.facts.channels)
    return [job.figures(r.id) for r in wanted if r.channel < count]


def worst_run(job: Job, stage: str) -> str:
    """Return the run of a stage that reads worst; the first one while nothing is read."""
    names = [
        f"{stage}{s}"
        for s in SUFFIX[: len(job.ledger.facts.channels)]
        if any(r.id == f"{stage}{s}" for r in job.ledger.method.runs)
    ]
    return max(names, key=lambda n: _weight(job, n), default=stage)


def _weight(job: Job, name: str) -> tuple[int, bool, bool]:
    figures = job.figures(name)
    channel = job.ledger.method.run(name).channel
    return _WORST[figures.mark], bool(figures.causes), job.air_off(channel)


def gas_text(job: Job, figures: RunFigures, run: str) -> str:
    """Return what the detector answered, gas by gas."""
    if not figures.order:
        return "The verdict grows with the readings."
    spec = job.ledger.method.run(run)
    gases = gases_of(job.settings, spec)
    c = job.ledger.facts.channels[spec.channel]
    said = []
    for i in figures.order:
        content = figures.taken[i].content
        seen, gas = shows(figures.facts, content), content.applied
        outcome = outcome_at(job, figures, i, gases[i])
        name = {"air": "In air", "zero": "In zero gas", "nitrogen": "In nitrogen"}.get(
            gases[i], "In span gas"
        )
        text = f"{name} {show(seen, 1)} {c.unit}"
        if gas and gases[i] == "span":
            text += f", {show(HUNDRED * seen / gas, 0)} % of {show(gas, 1)}"
        if content.t90_s is not None and gases[i] == "span":
            text += f", 90 % after {show(content.t90_s, 0)} s"
        if outcome != "accepted":
            text += f": {OUTCOMES[outcome].lower()}"
        said.append(text + ".")
    several = len(job.ledger.facts.channels) > 1
    return (f"{c.label}. " if several else "") + " ".join(said)


def gas_advice(job: Job, figures: RunFigures) -> str:
    """Return what to do about the first cause."""
    if not figures.order or (figures.mark == "within" and not figures.causes):
        return ""
    if not figures.causes:
        return "Set zero and span with the gases at hand."
    return figures.causes[0].remedy


def gas_choices(job: Job, figures: RunFigures, step: str) -> tuple[Choice, ...]:
    """Return what may be decided about a detector."""
    if not step or not figures.complete:
        return ()
    outside, near = figures.mark == "outside", figures.mark == "near"
    near = near or any(job.air_off(n) for n in range(len(job.ledger.facts.channels)))
    name = figures.causes[0].cause if figures.causes else ""
    curable = name in ("", *SETTABLE) or _hidden_zero(job, figures)
    if step == "air_judge":
        return (
            _c(
                "stop",
                "Leave it out of service and report it",
                True,
                True,
                "Clean air must read clean: something was around when it was zeroed.",
            ),
        )
    if job.ledger.method.adjusting == "none":
        return (
            _c("leave", "Keep it in service", not outside, outside, "It answers."),
            _c("stop", "Take it out of service", outside, True, "It does not answer as it must."),
        )
    if step == "left_judge":
        return (
            _c("adjust", "Set it again", curable, not curable, "A further round."),
            _c("stop", "Stop and report it", not curable, True, "It stays out of service."),
        )
    always = job.settings.always_adjust
    wanted = (outside or near or always) and curable
    replace = name in SPENT
    found = [
        _c(
            "leave",
            "Leave it as it is",
            not outside and not wanted and not name,
            outside or bool(name) or wanted,
            "It answers as it should: setting it would add error."
            if not outside
            else "Against the site rule.",
        ),
        _c(
            "adjust",
            "Set zero and span" if len(job.ledger.method.runs) > 1 else "Set it",
            wanted,
            not wanted,
            "The error can be set right."
            if wanted
            else "The cause is another one: put that right first, or it is hidden.",
        ),
        _c(
            "replace",
            "Replace the sensor, then set it",
            replace,
            not replace,
            "The sensor is spent.",
        ),
        _c(
            "stop",
            "Stop and report it",
            not wanted and not replace and (outside or bool(name)),
            True,
            "Put the cause right; then begin anew with a new job.",
        ),
    ]
    return tuple(found)


def _hidden_zero(job: Job, figures: RunFigures) -> bool:
    """Tell whether it was zeroed in gas some time ago: a zero with clean gas cures that."""
    first = figures.causes[0] if figures.causes else None
    return first is not None and first.cause == "background_gas" and first.percent < 0


def _c(id: str, label: str, recommended: bool, needs_reason: bool, why: str) -> Choice:
    return Choice(id=id, label=label, recommended=recommended, needs_reason=needs_reason, why=why)
