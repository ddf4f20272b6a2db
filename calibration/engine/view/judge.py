"""What is said about a run, and what may be decided: the judgement of instruments with one output.

A family changes what it judges in another way.
"""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.evaluation import RunFigures
from calibration.engine.method import RunSpec, Step
from calibration.engine.reads import Reads
from calibration.engine.view.asks import Choice
from calibration.engine.view.largest import largest
from calibration.engine.view.strip import HOP_LABELS
from calibration.kernel.numbers import HUNDRED, exceeds
from calibration.kernel.rounding import show, trimmed
from calibration.runs.chain import Hop

ADJUSTABLE = ("zero_shift", "span_error", "receiver_scaling")
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


OFTEN = ("As agreed with the engineer", "Replacement ordered")


def choice(
    id: str,
    label: str,
    recommended: bool,
    needs_reason: bool,
    why: str,
    often: tuple[str, ...] = OFTEN,
) -> Choice:
    """Return one possible decision."""
    return Choice(
        id=id,
        label=label,
        recommended=recommended,
        needs_reason=needs_reason,
        why=why,
        often=often if needs_reason else (),
    )


def hops_of(figures: RunFigures) -> tuple[Hop, ...]:
    """Return the hops of a run that was located; none of one that was not."""
    return figures.located.hops if figures.located is not None else ()


class Judge:
    """The judgement of an instrument with one output."""

    #: what a test is repeated with
    repeats_with = "reference instrument"
    #: an error beyond this is a fault and no drift: no setting is advised; none for no bound of
    #: this kind [% of span]. Rule of this product, by docs/safety.md; the manual decides.
    bound_percent: Decimal | None = Decimal(5)

    #: something may be put right in the visit, and the run taken again
    repairs = True

    def test_at_fault(self, figures: RunFigures) -> str:
        """Return by which decision the test is repeated, where a cause lies in it; else empty."""
        return ""

    def newest(self, job: Reads) -> tuple[str, Step | None]:
        """Return the run that is judged now, and the decision about it; none while there is none.

        The newest of as found, as left and a check that has a decision of its own.
        """
        method = job.ledger.method
        for step in reversed(method.steps):
            if step.judges == "check" and job.ledger.readings[step.run]:
                return step.run, step
        left = method.left
        if left is not None and job.figures(left.id).order:
            outside = job.figures(left.id).mark == "outside"
            return left.id, method.judging("left") if outside else None
        return method.found.id, method.judging("found")

    def text(self, job: Reads, figures: RunFigures, spec: RunSpec, run: str) -> str:
        """Return the verdict in a few sentences."""
        if figures.result is None:
            return "The verdict grows with the readings."
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
        if figures.mark == "near" and spec.role == "found":
            share = job.settings.number("adjust_share")
            text += (
                f" That is past the adjust limit of {share} % of the tolerance "
                f"({job.settings.parameter('adjust_share').source})."
            )
        if figures.mark == "within" and figures.complete:
            text += " " + self.within(job, spec)
        return text

    def within(self, job: Reads, spec: RunSpec) -> str:
        """Return what is said of a run that is within."""
        if spec.within:
            return spec.within
        if spec.role == "left":
            return "The adjustment held."
        if job.ledger.method.adjusting == "none":
            return "It stays in service."
        return "Adjusting what is fine adds error."

    def hop(self, figures: RunFigures) -> str:
        """Return the hop in which the error enters; empty where none stands out."""
        if figures.located is None or figures.located.fails is None:
            return ""
        if figures.facts.transfer.curve is not None:
            return ""
        return HOP_LABELS[figures.located.fails]

    def too_far(self, job: Reads, figures: RunFigures) -> str:
        """Return why no setting is advised, where the error is further off than drift takes it."""
        if self.bound_percent is None or figures.result is None or job.differs:
            return ""
        errors = [abs(p.error_percent_of_span) for p in figures.result.points if p.judged]
        most = max(errors, default=Decimal(0))
        if not exceeds(most, self.bound_percent, HUNDRED):
            return ""
        return (
            f"{show(most, 1)} % of span is more than drift explains (at most "
            f"{trimmed(self.bound_percent)} %): find the fault first, setting would hide it."
        )

    def barred(self, job: Reads, figures: RunFigures) -> str:
        """Return why nobody may set it, whatever the reason; empty where somebody may."""
        return ""

    def adjustable(self, job: Reads, figures: RunFigures) -> bool:
        """Tell whether zero and span adjustments can cure what the run shows."""
        if figures.result is None or job.ledger.method.adjusting == "none":
            return False
        if not figures.causes:
            return True
        return figures.causes[0].cause in ADJUSTABLE

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
        if job.ledger.method.adjusting == "none":
            if first is not None and first.cause in CONNECTION:
                return first.remedy
            return DRIFTED[figures.mark == "outside"]
        if first is not None and not self.adjustable(job, figures):
            return first.remedy
        if job.ledger.method.adjusting == "screws":
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
        if job.ledger.method.adjusting == "none":
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
        good = figures.mark != "outside"
        return (
            choice("leave", "Put it back in service", good, not good, "It reads as it should."),
            choice("stop", "Stop and report it", not good, True, "It reads wrong: repair."),
        )

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
