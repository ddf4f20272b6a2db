"""What is said of the loads on a vessel, and what may be decided."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import WORST, RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.families.loadcells.cause_rows import ROWS
from calibration.families.loadcells.evidence import enough
from calibration.families.shared.judging import CauseJudge, Words
from calibration.kernel.rounding import as_typed, show


class LoadCellJudge(CauseJudge):
    """Zero and span are set only where the vessel itself is in order."""

    rows = ROWS
    repeats_with = "set of weights"
    words = Words(
        leave="Leave it as it is",
        leave_why="Within its limit: setting it would add the scatter of the weights.",
        adjust="Set zero and span",
        adjust_why="The vessel is in order: setting cures it.",
        hides="Put the vessel in order first, or setting hides it.",
        again="Set it again",
    )

    def newest(self, job: Reads) -> tuple[str, Step | None]:
        """Return the run that is judged now: loads before corners, the worst as left."""
        method = job.ledger.method
        left = [r.id for r in method.runs_of("left") if job.figures(r.id).order]
        if not left:
            return method.found.id, method.judging("found")
        worst = max(left, key=lambda run: WORST[job.figures(run).mark])
        outside = job.figures(worst).mark == "outside"
        return worst, method.judging("left") if outside else None

    def text(self, job: Reads, figures: RunFigures, spec: RunSpec, run: str) -> str:
        """Return what the largest load shows, and what that comes to at capacity."""
        if not figures.order:
            return "The verdict comes with the loads."
        full = max(figures.order, key=lambda i: figures.plan[i].nominal)
        content = figures.taken[full].content
        off = content.reading - content.applied
        said = (
            f"{show(content.applied, 2)} kg shows {as_typed(content.reading)} kg, "
            f"{show(off, 2, sign=True)} kg."
        )
        if not content.applied:
            return said
        zero = figures.taken[figures.order[0]].content.reading
        capacity = job.ledger.facts.input_upper
        expected = zero + (off - zero) * capacity / content.applied
        u = enough(job).u_at_capacity
        return (
            f"{said} At {show(capacity, 0)} kg {show(expected, 1, sign=True)} kg "
            f"±{show(u, 1)} kg is expected."
        )
