"""What is said of the components, and what may be decided: by the worst of them."""

from __future__ import annotations

from calibration.engine.job.ledger import REPEAT
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import WORST, RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.engine.view.asks import Choice
from calibration.engine.view.judge import Judge, choice
from calibration.families.mixture.cause_rows import ROWS
from calibration.families.mixture.facts import components
from calibration.families.mixture.gases import standing_runs, touched
from calibration.kernel.rounding import show
from calibration.runs.cause_rows import lying_in

IN_TEST = lying_in(ROWS, "test")


class MixJudge(Judge):
    """The judgement of an analyzer by its worst component."""

    #: What it may be set from has limits of its own: of its sensors, its response or its zero.
    bound_percent = None

    repeats_with = "mixture"
    #: what lies in the gas is put right by repeating the test
    repairs = False

    def test_at_fault(self, figures: RunFigures) -> str:
        """Return by which decision the test is repeated, where the cause lies in it."""
        first = figures.causes[0].cause if figures.causes else ""
        return REPEAT if first in IN_TEST else ""

    def newest(self, job: Reads) -> tuple[str, Step | None]:
        """Return the worst run as it stands, and the decision about it."""
        method = job.ledger.method

        def weight(name: str) -> tuple[int, bool, bool]:
            figures = job.figures(name)
            return WORST[figures.mark], bool(figures.causes), method.run(name).role == "left"

        run = max(standing_runs(job), key=weight, default=method.found.id)
        return run, method.judging("left" if touched(job) else "found")

    def hop(self, figures: RunFigures) -> str:
        """Return nothing: it is judged component by component."""
        return ""

    def text(self, job: Reads, figures: RunFigures, spec: RunSpec, run: str) -> str:
        """Return the errors of the component that is judged."""
        if not figures.order:
            return "The verdict grows with the readings."
        c = components(job.ledger.facts)[spec.channel]
        said = []
        for i in figures.order:
            content = figures.taken[i].content
            off = show(content.reading - content.applied, 2, sign=True)
            said.append(f"{'Zero gas' if i == 0 else 'mixture'} {off} {c.unit}")
        return f"{c.label}: {', '.join(said)}."

    def advice(self, job: Reads, figures: RunFigures) -> str:
        """Return what to do about the first cause."""
        return figures.causes[0].remedy if figures.causes else ""

    def choices(self, job: Reads, figures: RunFigures, step: Step) -> tuple[Choice, ...]:
        """Return what may be decided about the components."""
        outside = figures.mark == "outside"
        name = figures.causes[0].cause if figures.causes else ""
        cured = (not name or ROWS[name].sets) and len(figures.causes) < 2
        if step.judges == "left":
            return (
                choice("adjust", "Set it again", cured, not cured, "A further round."),
                choice("stop", "Stop and report it", not cured, True, "It stays out of limits."),
            )
        return (
            choice("leave", "Leave it as it is", not outside, outside, "Against the site rule."),
            choice(
                "adjust",
                "Set what is off",
                outside and cured,
                not cured,
                "Setting it cures it: both gases once more."
                if cured
                else "Find the cause first, or setting it hides it.",
            ),
            choice("stop", "Stop and report it", outside and not cured, True, "Put it right."),
        )
