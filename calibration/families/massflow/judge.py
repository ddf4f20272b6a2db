"""What is said of a zero or of runs against a quantity, and what may be decided."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec
from calibration.families.massflow.cause_rows import ROWS
from calibration.families.massflow.evidence import proof, worth
from calibration.families.massflow.kinds import LIVE_ZERO
from calibration.families.shared.judging import CauseJudge, Words
from calibration.kernel.rounding import show


class MassFlowJudge(CauseJudge):
    """A zero is left alone unless it fails with its causes ruled out."""

    #: What it may be set from has limits of its own: of its sensors, its response or its zero.
    bound_percent = None

    rows = ROWS
    repeats_with = "reference"
    words = Words(
        leave="Leave it as it is",
        leave_why="Within its limit: a new value would only add scatter.",
        adjust="Set it",
        adjust_why="Other causes are ruled out: setting cures it.",
        hides="Find the cause first, or setting it stores the fault.",
        again="Set it again",
    )

    def text(self, job: Reads, figures: RunFigures, spec: RunSpec, run: str) -> str:
        """Return what was read, and what it is worth."""
        if not figures.order:
            return "The verdict comes with the reading."
        if spec.kind != LIVE_ZERO.id:
            return self._of_runs(job, figures)
        out = worth(job, figures.taken[figures.order[0]].content.reading)
        return (
            f"Live zero {show(out.deviation, 2, sign=True)} kg/h, "
            f"{show(out.share_of_limit_percent, 0)} % of the zero stability; at the smallest flow "
            f"that is {show(out.at_minimum_percent, 2)} %."
        )

    def _of_runs(self, job: Reads, figures: RunFigures) -> str:
        out = proof(job, figures)
        if out is None:
            return "Fewer than three runs show no scatter."
        return (
            f"Mean error {show(out.error_percent, 3, sign=True)} % "
            f"±{show(out.uncertainty_percent, 3)} %; the runs lie "
            f"{show(out.range_percent, 3)} % apart."
        )
