"""What is decided after a run with liquid."""

from __future__ import annotations

from calibration.engine.evaluation import RunFigures
from calibration.engine.reads import Reads
from calibration.engine.view.judge import Judge, choice
from calibration.engine.view.state import Choice


class LiquidJudge(Judge):
    """The judgement of a level instrument: weights first, liquid after."""

    def of_check(self, job: Reads, figures: RunFigures) -> tuple[Choice, ...]:
        """Return what may be decided after the wet run."""
        good = figures.mark != "outside"
        return (
            choice("leave", "Put it back in service", good, not good, "It follows the liquid."),
            choice(
                "stop", "Stop and report it", not good, True, "It sticks or reads wrong: repair."
            ),
        )
