"""What is said of a belt scale, and what may be decided."""

from __future__ import annotations

from calibration.engine.evaluation import WORST, RunFigures
from calibration.engine.method import RunSpec, Step
from calibration.engine.reads import Reads
from calibration.families.belt.evidence import errors_of, moved
from calibration.families.belt.facts import load_t_h
from calibration.families.belt.remedies import REFERENCE, SET, TEST
from calibration.families.belt.words import SPAN_RUNS, ZERO_RUNS, TurnsRun
from calibration.families.shared.judging import CauseJudge, Words
from calibration.kernel.rounding import show


class BeltJudge(CauseJudge):
    """New counts are taken over only where nothing at the belt is the cause."""

    sets, in_test, in_reference = SET, TEST, REFERENCE
    repeats_with = "reference"
    words = Words(
        leave="Keep the counts",
        leave_why="Within their limits: new ones would only add scatter.",
        adjust="Take the new counts over",
        adjust_why="Nothing at the belt is the cause: new counts cure it.",
        hides="Find the cause first, or new counts hide it until the belt is clean again.",
        again="Take them over again",
    )

    def newest(self, job: Reads) -> tuple[str, Step | None]:
        """Return the worst run of the newest stage, and the decision about it."""
        method = job.ledger.method
        for role in ("left", "found"):
            read = [r.id for r in method.runs_of(role) if job.figures(r.id).order]
            if read:
                worst = max(read, key=lambda run: WORST[job.figures(run).mark])
                outside = job.figures(worst).mark == "outside"
                judged = method.judging(role) if role == "found" or outside else None
                return worst, judged
        return method.found.id, method.judging("found")

    def text(self, job: Reads, figures: RunFigures, spec: RunSpec, run: str) -> str:
        """Return the deviations of zero and span, or the error with material."""
        if not figures.order:
            return "The verdict comes with whole revolutions."
        if not isinstance(spec, TurnsRun):
            errors = errors_of(figures)
            mean = sum(errors) / len(errors)
            return f"Material: {show(mean, 2, sign=True)} % in the mean of {len(errors)} loads."
        left = spec.role == "left"
        zero, span = (ZERO_RUNS[left], SPAN_RUNS[left])
        if left and not job.ledger.readings[zero]:
            zero = ZERO_RUNS[0]
        out = moved(job, zero, span)
        if out is None:
            return "Fewer than three revolutions show no scatter."
        if out.baseline and out.span_percent is None:
            return "A first run: it is the baseline, and deviates from nothing."
        said = f"The weights stand for {show(load_t_h(job.ledger.facts), 0)} t/h."
        if out.zero_percent is not None:
            said += f" Zero {show(out.zero_percent, 2, sign=True)} % of span."
        if out.span_percent is not None:
            said += f" Span {show(out.span_percent, 2, sign=True)} %."
        return said
