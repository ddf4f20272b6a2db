"""What is said of the pair, and what may be decided: by the worst component."""

from __future__ import annotations

from calibration.engine.job.ledger import REPEAT, REPEAT_OTHER
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import WORST, RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.engine.view.asks import Choice
from calibration.engine.view.judge import Judge, choice
from calibration.families.chromatograph.cause_rows import ROWS
from calibration.families.chromatograph.facts import peaks
from calibration.families.chromatograph.injections import accepted
from calibration.families.chromatograph.words import SUFFIX
from calibration.kernel.rounding import show
from calibration.runs.cause_rows import lying_in

IN_TEST = lying_in(ROWS, "test")


class GcJudge(Judge):
    """The judgement of a chromatograph by its worst component."""

    #: What it may be set from has limits of its own: of its sensors, its response or its zero.
    bound_percent = None

    repeats_with = "gas"
    #: seals and columns are put right by repeating the test
    repairs = False

    def test_at_fault(self, figures: RunFigures) -> str:
        """Return by which decision the test is repeated, where the cause lies in it."""
        first = figures.causes[0].cause if figures.causes else ""
        if first in ("gc_part", "gc_gas"):
            return REPEAT_OTHER
        return REPEAT if first in IN_TEST else ""

    def newest(self, job: Reads) -> tuple[str, Step | None]:
        """Return the worst run of the newest stage, and the decision about it."""
        method = job.ledger.method
        count = len(peaks(job.ledger.facts))
        for stage, step in (("as_left", "left"), ("as_found", "found")):
            names = [stage + SUFFIX[n] for n in range(count)]
            read = [n for n in names if job.ledger.readings[n]]
            if read:
                worst = max(read, key=lambda n: WORST[job.figures(n).mark])
                outside = job.figures(worst).mark == "outside"
                judged = method.judging(step) if step == "found" or outside else None  # type: ignore[arg-type]
                return worst, judged
        return method.found.id, method.judging("found")

    def hop(self, figures: RunFigures) -> str:
        """Return nothing: it is judged component by component."""
        return ""

    def text(self, job: Reads, figures: RunFigures, spec: RunSpec, run: str) -> str:
        """Return the pair that counts, and the component that is judged."""
        if not figures.order:
            return "The verdict comes with two injections that agree."
        peak = peaks(job.ledger.facts)[spec.channel]
        content = figures.taken[figures.order[0]].content
        off = show(content.reading - content.applied, 1, sign=True)
        pair = accepted(job.ledger, job.settings)
        said = f"Injections {pair[0] + 1} and {pair[1] + 1} agree. " if pair else ""
        return f"{said}{peak.label}: {off} ppm."

    def advice(self, job: Reads, figures: RunFigures) -> str:
        """Return what to do about the first cause."""
        return figures.causes[0].remedy if figures.causes else ""

    def choices(self, job: Reads, figures: RunFigures, step: Step) -> tuple[Choice, ...]:
        """Return what may be decided about the pair."""
        outside = figures.mark == "outside"
        name = figures.causes[0].cause if figures.causes else ""
        cured = (not name or ROWS[name].sets) and len(figures.causes) < 2
        if step.judges == "left":
            return (
                choice("adjust", "Store it again", cured, not cured, "A further round."),
                choice("stop", "Stop and report it", not cured, True, "It stays out of limits."),
            )
        wanted = cured and (outside or figures.mark == "near" or job.settings.always_adjust)
        leave = not outside and not wanted
        return (
            choice(
                "leave",
                "Keep the response",
                leave,
                not leave,
                "Within limits: another response would add the scatter of two injections."
                if leave
                else "Against the site rule.",
            ),
            choice(
                "adjust",
                "Store the mean as the new response",
                wanted,
                not wanted,
                "It cures it; a check injection proves it."
                if wanted
                else "Find the cause first, or it hides a leak until the next gas.",
            ),
            choice("stop", "Stop and report it", outside and not cured, True, "Put it right."),
        )
