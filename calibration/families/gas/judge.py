"""The verdict on a gas detector as sentences, and what may be decided."""

from __future__ import annotations

from typing import Literal

from calibration.detector.cause_rows import ROWS
from calibration.engine.job.ledger import REPEAT, REPEAT_OTHER
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import WORST, RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.engine.view.asks import Choice
from calibration.engine.view.judge import Judge, choice
from calibration.families.gas import airproof
from calibration.families.gas.causes import VOLTAGE_OFF, voltage_found_off
from calibration.families.gas.exposure import (
    by_gas,
    exposes,
    may_set,
    standing_runs,
    taking_part,
    touched,
)
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import air_off, answer, bottled, gases_of, shows
from calibration.families.gas.ledger import gas_of
from calibration.families.gas.outcomes import OUTCOMES, outcome_at
from calibration.families.gas.words import Exposure, GasRun
from calibration.kernel.numbers import HUNDRED
from calibration.kernel.rounding import show
from calibration.runs.cause_rows import cured_by_setting, lying_in

#: Causes that setting zero and span can cure. All others are put right first.
SETTABLE = (*cured_by_setting(ROWS), "span_error", "zero_shift")
#: Causes for which the sensor is replaced.
SPENT = ("poisoned", "saturated", "spent")
#: Causes that lie in the cylinder, and in how the gas came to the sensor.
OTHER_GAS, IN_TEST = lying_in(ROWS, "reference"), lying_in(ROWS, "test")
#: What a reading was taken in, as a sentence begins with it.
NAMES = {
    "air": "In air",
    "zero": "In zero gas",
    "nitrogen": "In nitrogen",
    "proof": "In bottled air",
}
Stage = Literal["found", "left", "clear"]


def runs_of(job: Reads, stage: Stage) -> list[RunSpec]:
    """Return the runs of a stage for the channels that the detector has."""
    count = len(channels(job.ledger.facts))
    return [
        r
        for r in job.ledger.method.runs
        if r.channel < count
        and (isinstance(r, GasRun) and r.clear if stage == "clear" else r.role == stage)
    ]


def channel_runs(job: Reads, stage: Stage) -> list[RunFigures]:
    """Return the figures of a stage, one a channel."""
    return [job.figures(r.id) for r in runs_of(job, stage)]


def worst_run(job: Reads, stage: Stage) -> str:
    """Return the run of a stage that reads worst; the first one while nothing is read."""
    first: dict[int, str] = {}
    for spec in runs_of(job, stage):
        first.setdefault(spec.channel, spec.id)
    names = dict.fromkeys(first.values())
    # A further point of the same gas counts once it is read.
    names |= {spec.id: None for spec in runs_of(job, stage) if job.figures(spec.id).order}
    return max(names, key=lambda n: _weight(job, n))


def _weight(job: Reads, name: str) -> tuple[int, bool, bool]:
    figures = job.figures(name)
    channel = job.ledger.method.run(name).channel
    return WORST[figures.mark], bool(figures.causes), air_off(job, channel)


def _hidden_zero(job: Reads, figures: RunFigures) -> bool:
    """Tell whether it was zeroed in gas some time ago: a zero with clean gas cures that."""
    first = figures.causes[0] if figures.causes else None
    return first is not None and first.cause == "background_gas" and first.percent < 0


def _set_twice(job: Reads) -> bool:
    """Tell whether something was set twice and is outside all the same: a third does not help."""
    ends = [(move.channel, move.end) for move in gas_of(job.ledger).moves]
    return any(ends.count(end) > 1 for end in ends)


def _some_good(job: Reads) -> bool:
    """Tell whether of several sensors one at least reads right as it stands."""
    marks = [job.figures(n).mark for n in standing_runs(job) if not n.startswith("air_")]
    return len(marks) > 1 and any(m in ("within", "near") for m in marks)


def _what_is_set(job: Reads) -> str:
    """Return what is set of the detector, as a choice says it."""
    if len(job.ledger.method.runs) < 2:
        return "Set it"
    spans = [s for s in job.ledger.method.steps if isinstance(s, Exposure) and s.gas == "span"]
    part = [s for s in spans if job.possible(s)]
    if part and not any(may_set(job, s, n) for s in part for n in taking_part(job.ledger, s)):
        return "Set its zero"
    return "Set zero and span"


class DetectorJudge(Judge):
    """The judgement of a detector: by its worst channel."""

    #: What it may be set from has limits of its own: of its sensors, its response or its zero.
    bound_percent = None

    repeats_with = "cylinder"

    def test_at_fault(self, figures: RunFigures) -> str:
        """Return by which decision the test is repeated: another cylinder, or put right."""
        first = figures.causes[0].cause if figures.causes else ""
        return REPEAT_OTHER if first in OTHER_GAS else REPEAT if first in IN_TEST else ""

    def barred(self, job: Reads, figures: RunFigures) -> str:
        """Return why nobody may set it: air that is not proven good."""
        ledger = job.ledger
        wanted = airproof.asked(ledger) and not exposes(ledger) and airproof.answered(ledger)
        if not wanted or bottled(ledger):
            return ""
        oxygen = any(c.gas == "oxygen" for c in channels(ledger.facts))
        return airproof.doubt(ledger) if oxygen else ""

    def newest(self, job: Reads) -> tuple[str, Step | None]:
        """Return the worst run of the newest stage, and the decision about it."""
        method = job.ledger.method
        if exposes(job.ledger):
            return self._newest_exposed(job)
        lefts = channel_runs(job, "left")
        left = any(f.order for f in lefts)
        run = worst_run(job, "left" if left else "found")
        step = None if left else method.judging("found")
        if left and any(f.complete and f.mark == "outside" for f in lefts):
            step = method.judging("left")
        if any(f.order and f.mark == "outside" for f in channel_runs(job, "clear")):
            run, step = worst_run(job, "clear"), method.judging("check")
        return run, step

    def _newest_exposed(self, job: Reads) -> tuple[str, Step | None]:
        """Return the worst of what stands after the exposures, and the decision about it."""
        method = job.ledger.method
        if any(f.order and f.mark == "outside" for f in channel_runs(job, "clear")):
            return worst_run(job, "clear"), method.judging("check")
        run = max(standing_runs(job), key=lambda n: _weight(job, n), default=method.found.id)
        return run, method.judging("left" if touched(job) else "found")

    def hop(self, figures: RunFigures) -> str:
        """Return nothing: a detector is judged as a whole."""
        return ""

    def text(self, job: Reads, figures: RunFigures, spec: RunSpec, run: str) -> str:
        """Return what the detector answered, gas by gas."""
        if not figures.order:
            return "The verdict grows with the readings."
        gases = gases_of(job.settings, spec)
        c = channels(job.ledger.facts)[spec.channel]
        said = []
        for i in figures.order:
            content = figures.taken[i].content
            took = answer(content).t90_s
            seen, gas = shows(figures.facts, content), content.applied
            outcome = outcome_at(job, figures, i, gases[i])
            name = NAMES.get(gases[i], "In span gas")
            text = f"{name} {show(seen, 1)} {c.unit}"
            if gas and gases[i] == "span":
                text += f", {show(HUNDRED * seen / gas, 0)} % of {show(gas, 1)}"
            if took is not None and gases[i] == "span":
                text += f", 90 % after {show(took, 0)} s"
            if outcome != "accepted":
                text += f": {OUTCOMES[outcome].lower()}"
            said.append(text + ".")
        off = voltage_found_off(job, spec.channel)
        if exposes(job.ledger) and abs(off) > VOLTAGE_OFF:
            said.append(
                f"Its reference voltage was found {off:+.1f} % off the gas of today: the last "
                "span was set for another gas, and is in doubt."
            )
        several = len(channels(job.ledger.facts)) > 1
        return (f"{c.label}. " if several else "") + " ".join(said)

    def advice(self, job: Reads, figures: RunFigures) -> str:
        """Return what to do about the first cause."""
        if not figures.order or (figures.mark == "within" and not figures.causes):
            return ""
        if not figures.causes:
            return "Set zero and span with the gases at hand."
        return figures.causes[0].remedy

    def choices(self, job: Reads, figures: RunFigures, step: Step) -> tuple[Choice, ...]:
        """Return what may be decided about a detector."""
        outside, near = figures.mark == "outside", figures.mark == "near"
        near = near or any(air_off(job, n) for n in range(len(channels(job.ledger.facts))))
        name = figures.causes[0].cause if figures.causes else ""
        curable = name in ("", *SETTABLE) or _hidden_zero(job, figures)
        if step.judges == "check":
            return (
                choice(
                    "stop",
                    "Leave it out of service and report it",
                    True,
                    True,
                    "Clean air must read clean: something was around when it was zeroed.",
                ),
            )
        if not job.ledger.method.sets:
            return (
                choice("leave", "Keep it in service", not outside, outside, "It answers."),
                choice(
                    "stop",
                    "Take it out of service",
                    outside,
                    True,
                    "It does not answer as it must.",
                ),
            )
        if step.judges == "left":
            curable = curable and not _set_twice(job)
            partly = by_gas(job.ledger) and _some_good(job)
            found = [
                choice("adjust", "Set it again", curable, not curable, "A further round."),
                choice(
                    "stop",
                    "Stop and report it",
                    not curable and not partly,
                    True,
                    "It stays out of service.",
                ),
            ]
            if partly:
                why = "What reads right guards on; what does not is out of service by name."
                found.append(choice("leave", "Use what reads right", not curable, True, why))
            return tuple(found)
        always = job.settings.has("school") and job.settings.always_adjust
        wanted = (outside or near or always) and curable
        replace = name in SPENT
        found = [
            choice(
                "leave",
                "Leave it as it is",
                not outside and not wanted and not name,
                outside or bool(name) or wanted,
                "It answers as it should: setting it would add error."
                if not outside
                else "Against the site rule.",
            ),
            choice(
                "adjust",
                _what_is_set(job),
                wanted,
                not wanted,
                "The error can be set right."
                if wanted
                else "The cause is another one: put that right first, or it is hidden.",
            ),
            choice(
                "replace",
                "Replace the sensor, then set it",
                replace,
                not replace,
                "The sensor is spent.",
            ),
            choice(
                "stop",
                "Stop and report it",
                not wanted and not replace and (outside or bool(name)),
                True,
                "Put the cause right; then begin anew with a new job.",
            ),
        ]
        return tuple(found)
