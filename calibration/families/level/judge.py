"""What is decided after a run with liquid."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.job.ledger import REPEAT
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.view.asks import Choice
from calibration.engine.view.judge import of_check
from calibration.families.level.hung import WRONG_WEIGHT
from calibration.families.shared.loop.judge import LoopJudge
from calibration.kernel.rounding import show

#: A shift below this is shown as none: it would cure nothing. [% of span]
SHOWN = Decimal("0.005")


def zero_alone(figures: RunFigures) -> Decimal | None:
    """Return the shift of zero that puts every point within its limit; none where none does.

    Halfway between the least and the most that each point allows. [% of span]
    """
    if figures.result is None or not figures.complete:
        return None
    points = figures.result.points
    least = max(-p.limit_percent - p.error_percent_of_span for p in points)
    most = min(p.limit_percent - p.error_percent_of_span for p in points)
    return (least + most) / 2 if least <= most else None


class LiquidJudge(LoopJudge):
    """The judgement of a level instrument: weights first, liquid after."""

    def advice(self, job: Reads, figures: RunFigures) -> str:
        """Return what to do; where a shift of zero alone puts all within, that it may be set."""
        shift = zero_alone(figures)
        nothing = shift is None or abs(shift) < SHOWN
        if figures.facts.input_unit != "%" or figures.mark != "outside" or nothing:
            return super().advice(job, figures)
        return (
            f"A zero shift of {show(shift or 0, 2, sign=True)} % of span puts every point within. "
            "Is the glass read right, and the liquid as said? Then set zero at the level that "
            "stands, and take the wet run again."
        )

    def test_at_fault(self, figures: RunFigures) -> str:
        """Return that the test is repeated where a single weight may be wrong."""
        first = figures.causes[0].cause if figures.causes else ""
        return REPEAT if first == WRONG_WEIGHT else ""

    def of_check(self, job: Reads, figures: RunFigures) -> tuple[Choice, ...]:
        """Return what may be decided after the wet run."""
        return of_check(figures, "It follows the liquid.", "It sticks or reads wrong: repair.")
