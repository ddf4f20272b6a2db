"""What is said of a verification, and what may be decided: it never changes the meter."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec
from calibration.families.magmeter.cause_rows import ROWS
from calibration.families.magmeter.facts import meter
from calibration.families.magmeter.kinds import LINES, OUTPUT
from calibration.families.shared.judging import CauseJudge, Words
from calibration.kernel.rounding import show


class MagJudge(CauseJudge):
    """Verified only when every line is; nothing is set."""

    #: What it may be set from has limits of its own: of its sensors, its response or its zero.
    bound_percent = None

    rows = ROWS
    repeats_with = "tester"
    words = Words(
        leave="Every line is within: go on",
        leave_why="Verified once it is reconnected and live.",
        adjust="",
        adjust_why="",
        hides="",
        again="",
        stop="Tested, not verified; say what is done.",
    )

    def text(self, job: Reads, figures: RunFigures, spec: RunSpec, run: str) -> str:
        """Return the worst line, or what the control room shows."""
        if not figures.order:
            return "The verdict comes with the lines of the tester."
        if spec.kind == OUTPUT.id:
            off = max(
                (t.content.reading - t.content.applied for t in figures.taken.values()), key=abs
            )
            return f"The control room is {show(off, 3, sign=True)} mA off at most."
        shares = {i: figures.taken[i].content.reading for i in figures.order}
        worst = max(shares, key=lambda i: abs(shares[i]))
        failed = sum(abs(s) > 100 for s in shares.values())
        said = f"{len(shares) - failed} of {len(shares)} lines within."
        label = meter(job.ledger.facts).lines[worst].label
        answer = LINES.answer(job, spec, worst, figures.taken[worst].content)
        of_limit = answer or f"{show(abs(shares[worst]), 0)} % of its limit"
        return f"{said} Worst: {label}, {of_limit}."
