"""What is said about a run, and what may be decided: what all families have in common."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.engine.view.asks import Choice
from calibration.engine.view.largest import largest
from calibration.kernel.numbers import HUNDRED, exceeds
from calibration.kernel.rounding import show, trimmed

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


def of_check(
    figures: RunFigures,
    good_why: str = "It reads as it should.",
    bad_why: str = "It reads wrong: repair.",
) -> tuple[Choice, ...]:
    """Return what may be decided about a check: back in service, or not."""
    good = figures.mark != "outside"
    return (
        choice("leave", "Put it back in service", good, not good, good_why),
        choice("stop", "Stop and report it", not good, True, bad_why),
    )


def past_limit(job: Reads, figures: RunFigures, spec: RunSpec) -> str:
    """Return that an as-found run is past the adjust limit; empty where it is not."""
    if figures.mark != "near" or spec.role != "found":
        return ""
    share = job.settings.number("adjust_share")
    return (
        f" That is past the adjust limit of {share} % of the tolerance "
        f"({job.settings.parameter('adjust_share').source})."
    )


class Judge:
    """The judgement of a run; a family changes what it judges in another way."""

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
        return f"Largest error {largest(figures, False)}." + past_limit(job, figures, spec)

    def hop(self, figures: RunFigures) -> str:
        """Return where between input and control room the error enters; empty where unknown."""
        return ""

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

    def advice(self, job: Reads, figures: RunFigures) -> str:
        """Return what to do about the first cause."""
        return figures.causes[0].remedy if figures.causes else ""

    def choices(self, job: Reads, figures: RunFigures, step: Step) -> tuple[Choice, ...]:
        """Return what may be decided about a complete run."""
        return of_check(figures)
