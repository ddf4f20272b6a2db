"""What is said of a reading in span gas, and what may be decided."""

from __future__ import annotations

from calibration.engine.job.ledger import REPEAT, REPEAT_OTHER
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.engine.view.asks import Choice
from calibration.engine.view.judge import Judge, choice
from calibration.families.trace.bleeding import too_much_left
from calibration.families.trace.cause_rows import ROWS
from calibration.families.trace.values import shown, slope
from calibration.families.trace.words import FITTED
from calibration.kernel.numbers import to_float
from calibration.kernel.rounding import show
from calibration.runs.cause_rows import lying_in

IN_TEST = lying_in(ROWS, "test")


class TraceJudge(Judge):
    """The judgement of a trace oxygen analyzer by its span gas."""

    #: What it may be set from has limits of its own: of its sensors, its response or its zero.
    bound_percent = None

    repeats_with = "cylinder"
    #: a regulator is bled and a fitting tightened by repeating the test; a sensor is a job
    repairs = False

    def test_at_fault(self, figures: RunFigures) -> str:
        """Return by which decision the test is repeated, where the likeliest cause lies in it."""
        first = figures.causes[0].cause if figures.causes else ""
        if first == "another_span_gas":
            return REPEAT_OTHER
        return REPEAT if first in IN_TEST else ""

    def barred(self, job: Reads, figures: RunFigures) -> str:
        """Return that nothing is set with air left in the regulator."""
        left = too_much_left(job)
        return f"{left} Nothing is set by it." if left else ""

    def hop(self, figures: RunFigures) -> str:
        """Return nothing: the strip and the causes say where it enters."""
        return ""

    def text(self, job: Reads, figures: RunFigures, spec: RunSpec, run: str) -> str:
        """Return reading, error and how it moves."""
        if figures.result is None:
            return "The verdict comes with the reading."
        content = figures.taken[figures.order[0]].content
        showed = shown(figures.facts, content)
        said = (
            f"It shows {show(showed, 2)} ppm in {show(content.applied, 2)} ppm: "
            f"{show(showed - content.applied, 2, sign=True)} ppm."
        )
        moves = slope(content, to_float(showed))
        if moves is not None:
            said += f" It moves by {show(moves, 2, sign=True)} ppm a minute."
        return said

    def advice(self, job: Reads, figures: RunFigures) -> str:
        """Return what to do about the first cause."""
        return figures.causes[0].remedy if figures.causes else ""

    def choices(self, job: Reads, figures: RunFigures, step: Step) -> tuple[Choice, ...]:
        """Return what may be decided about the reading."""
        outside = figures.mark == "outside"
        name = figures.causes[0].cause if figures.causes else ""
        sure = len(figures.causes) < 2
        fresh = job.ledger.method.step(FITTED) is not None
        cured = (not name or ROWS[name].sets) and sure
        if step.judges == "left":
            return (
                choice("adjust", "Set it again", cured, not cured, "A further round."),
                choice("stop", "Stop and report it", not cured, True, "It stays out of limits."),
            )
        wanted = cured and (
            outside or figures.mark == "near" or job.settings.always_adjust or fresh
        )
        leave = not outside and not wanted and not name
        left = choice(
            "leave",
            "Leave it as it is",
            leave,
            not leave,
            "Within limits: setting it would add the error of the gas."
            if leave
            else "Against the site rule.",
        )
        return (
            # A new sensor was never set: it cannot stay as it is.
            *(() if fresh else (left,)),
            choice(
                "adjust",
                "Set the span",
                wanted,
                not wanted,
                "A new sensor is set once it is down."
                if fresh and wanted
                else "Setting it cures it."
                if wanted
                else "Find the cause first, or setting it hides air that comes in.",
            ),
            choice(
                "stop",
                "Stop and report it",
                bool(name) and not wanted,
                True,
                "Put the cause right; a new sensor is a job of its own.",
            ),
        )
