"""What is said of a belt scale, and what may be decided."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import WORST, RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.families.belt.cause_rows import ROWS
from calibration.families.belt.evidence import errors_of, moved, turned
from calibration.families.belt.facts import load_t_h
from calibration.families.belt.naming import lost
from calibration.families.belt.words import SPAN_RUNS, ZERO_RUNS, TurnsRun
from calibration.families.shared.judging import CauseJudge, Words
from calibration.kernel.numbers import to_float
from calibration.kernel.rounding import show


class BeltJudge(CauseJudge):
    """New counts are taken over only where nothing at the belt is the cause."""

    rows = ROWS
    repeats_with = "reference"
    bound_percent: Decimal = Decimal(5)
    words = Words(
        leave="Keep the counts",
        leave_why="Within their limits: new ones would only add scatter.",
        adjust="Take the new counts over",
        adjust_why="Nothing at the belt is the cause: new counts cure it.",
        hides="Find the cause first, or new counts hide it until the belt is clean again.",
        again="Take them over again",
    )

    def too_far(self, job: Reads, figures: RunFigures) -> str:
        """Return why no new counts are advised: a deviation that no drift explains."""
        seen = turned(job)
        if seen is None:
            return ""
        most = max(abs(seen.zero_percent or 0.0), abs(seen.span_percent or 0.0))
        bound = to_float(self.bound_percent)
        if most <= bound:
            return ""
        return (
            f"{show(most, 1)} % is more than drift explains (at most {bound:g} %): find the fault "
            "first, new counts would hide it."
        )

    def barred(self, job: Reads, figures: RunFigures) -> str:
        """Return why nobody may take new counts over: part of the weigh frame is dead."""
        seen = turned(job)
        if seen is None or not lost(seen):
            return ""
        return "Part of the weigh frame or of the speed is lost: no counts are taken from it."

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
