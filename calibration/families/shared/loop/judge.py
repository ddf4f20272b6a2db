"""The judgement of a transmitter: where in the loop an error enters, and how it is adjusted."""

from __future__ import annotations

from calibration.engine.job.ledger import REPEAT_OTHER
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.engine.view.asks import Choice
from calibration.engine.view.judge import Judge, choice, of_check, past_limit
from calibration.engine.view.largest import largest
from calibration.families.shared.loop.strip import HOP_LABELS
from calibration.families.shared.loop.trims import way
from calibration.kernel.rounding import show
from calibration.runs.cause_rows import ROWS, cured_by_setting
from calibration.runs.chain import Hop

ADJUSTABLE = cured_by_setting(ROWS)
#: Causes outside the sensor itself: they are put right, the sensor is not replaced for them.
CONNECTION = (
    "wrong_sensor_type",
    "junction_compensation",
    "swapped_polarity",
    "lead_resistance",
    "shunt",
    "immersion",
    "outlier",
    "noise",
    "stuck",
)
#: A sensor by itself is never adjusted.
DRIFTED = {
    True: "A sensor cannot be adjusted: replace it.",
    False: "It has drifted: check it again sooner, or have a new one at hand.",
}
SCREWS = (
    "Set zero at the heavy weight and span at the light one. Each moves the other: go round at "
    "least twice, as advised, until both hold."
)
ADJUST_WHY = {
    (True, True): "A setting differs from the record: that is put right first, nothing trimmed.",
    (True, False): "A setting differs from the record; the errors are within limits all the same.",
    (False, True): "The error can be adjusted.",
    (False, False): "It is fine, or adjusting will not cure it.",
}


def hops_of(figures: RunFigures) -> tuple[Hop, ...]:
    """Return the hops of a run that was located; none of one that was not."""
    return figures.located.hops if figures.located is not None else ()


class LoopJudge(Judge):
    """The judgement of an instrument with one output, read at each station of its loop."""

    def text(self, job: Reads, figures: RunFigures, spec: RunSpec, run: str) -> str:
        """Return the verdict in a few sentences."""
        if figures.result is None:
            return super().text(job, figures, spec, run)
        facts = figures.facts
        sensor = facts.transfer.curve is not None or facts.output_unit == facts.input_unit
        text = f"Largest error {largest(figures, sensor)}."
        receiver = next(
            (h for h in hops_of(figures) if h.name == "receiver" and not h.within), None
        )
        if receiver is not None:
            shown = show(receiver.max_error_percent, 2, sign=True)
            text += f" The control room adds up to {shown} %."
        unjudged = sum(not p.judged for p in figures.result.points)
        if unjudged:
            cut = job.settings.parameter("cut_off")
            text += f" Below {cut.value} % flow the error means nothing: shown, not judged."
        text += past_limit(job, figures, spec)
        if figures.mark == "within" and figures.complete:
            text += " " + _within(job, spec)
        return text

    def hop(self, figures: RunFigures) -> str:
        """Return the hop in which the error enters; empty where none stands out."""
        if figures.located is None or figures.located.fails is None:
            return ""
        if figures.facts.transfer.curve is not None:
            return ""
        return HOP_LABELS[figures.located.fails]

    def adjustable(self, job: Reads, figures: RunFigures) -> bool:
        """Tell whether zero and span adjustments can cure what the run shows."""
        if figures.result is None or not job.ledger.method.sets:
            return False
        if not figures.causes:
            return True
        return figures.causes[0].cause in ADJUSTABLE

    def test_at_fault(self, figures: RunFigures) -> str:
        """Return that it is repeated with another reference, where that is the first suspect."""
        row = ROWS.get(figures.causes[0].cause) if figures.causes else None
        return REPEAT_OTHER if row is not None and row.lies_in == "reference" else ""

    def advice(self, job: Reads, figures: RunFigures) -> str:
        """Return what to do about the first cause."""
        if figures.result is None or figures.mark == "within":
            return ""
        left = job.as_left
        if job.differs and not (left is not None and left.taken):
            return (
                f"In the device {job.differences}. Bring that back first and take the run again: "
                "re-ranging is not calibration, and nothing is trimmed for it."
            )
        first = figures.causes[0] if figures.causes else None
        if not job.ledger.method.sets:
            if first is not None and first.cause in CONNECTION:
                return first.remedy
            return DRIFTED[figures.mark == "outside"]
        if first is not None and not self.adjustable(job, figures):
            return first.remedy
        if way(job.ledger.method).screws:
            return SCREWS
        if figures.located is not None and figures.located.fails is not None:
            return figures.located.advice
        return first.remedy if first else ""

    def choices(self, job: Reads, figures: RunFigures, step: Step) -> tuple[Choice, ...]:
        """Return what may be decided about a complete run."""
        cure = self.adjustable(job, figures)
        outside = figures.mark == "outside"
        if step.judges == "check":
            return self.of_check(job, figures)
        if step.judges == "left":
            return (
                choice("adjust", "Adjust again", cure, not cure, "A further round of adjusting."),
                choice(
                    "stop", "Stop and report it", not cure, True, "It goes back outside limits."
                ),
            )
        if not job.ledger.method.sets:
            return (
                choice(
                    "leave",
                    "Keep it in service",
                    not outside,
                    outside,
                    "Within its limits." if not outside else "It reads outside its limits.",
                ),
                choice(
                    "stop",
                    "Replace or put right",
                    outside,
                    True,
                    "A sensor cannot be adjusted; say what is done.",
                ),
            )
        return self.of_found(job, figures)

    def of_check(self, job: Reads, figures: RunFigures) -> tuple[Choice, ...]:
        """Return what may be decided about a check that has a decision of its own."""
        return of_check(figures)

    def of_found(self, job: Reads, figures: RunFigures) -> tuple[Choice, ...]:
        """Return what may be decided about an as-found run that can be adjusted from."""
        outside, near = figures.mark == "outside", figures.mark == "near"
        back = job.differs
        cure = self.adjustable(job, figures) or back
        always = job.settings.always_adjust
        wanted = (outside or near or always) and cure
        leave_fits = not outside and (not cure or (not near and not always))
        return (
            choice(
                "leave",
                "Leave it as it is",
                leave_fits,
                not leave_fits,
                "Within limits: adjusting would add error."
                if leave_fits
                else "Against the site rule.",
            ),
            choice(
                "adjust",
                "Bring the settings back, then run again" if back else "Adjust it",
                wanted,
                not wanted,
                ADJUST_WHY[back, wanted],
            ),
            choice(
                "stop",
                "Stop and report it",
                outside and not cure,
                True,
                "Clean, repair or replace; it goes back marked as outside limits.",
            ),
        )


def _within(job: Reads, spec: RunSpec) -> str:
    """Return what is said of a run that is within."""
    if spec.within:
        return spec.within
    if spec.role == "left":
        return "The adjustment held."
    if not job.ledger.method.sets:
        return "It stays in service."
    return "Adjusting what is fine adds error."
