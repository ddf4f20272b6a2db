"""What is said of an indicator, and what may be decided."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec
from calibration.families.indicator.cause_rows import ROWS
from calibration.families.shared.judging import CauseJudge, Words
from calibration.kernel.rounding import as_typed, show


class IndicatorJudge(CauseJudge):
    """It is set only where a cause is named that setting cures."""

    rows = ROWS
    repeats_with = "load"
    words = Words(
        leave="Leave it as it is",
        leave_why="Within its limit: setting it would add the error of the load.",
        adjust="Set zero and load",
        adjust_why="Setting cures it; the new factor is written down.",
        hides="Find the cause first, or setting it hides it.",
        again="Set it again",
    )

    def text(self, job: Reads, figures: RunFigures, spec: RunSpec, run: str) -> str:
        """Return what nothing and the load show."""
        if not figures.complete:
            return "The verdict comes with nothing and two loads."
        zero, load = (figures.taken[i].content for i in (0, 1))
        off = load.reading - load.applied
        return (
            f"Nothing shows {as_typed(zero.reading)} kg; {show(load.applied, 2)} kg shows "
            f"{as_typed(load.reading)} kg, {show(off, 2, sign=True)} kg."
        )
