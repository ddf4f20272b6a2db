"""What is said of an electrode in buffers, and what may be decided."""

from __future__ import annotations

from calibration.engine.job.ledger import REPEAT
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.engine.view.asks import Choice
from calibration.engine.view.judge import Judge, choice
from calibration.families.ph.cause_rows import ROWS
from calibration.families.ph.facts import analyzer
from calibration.families.ph.found import electrode_in
from calibration.families.ph.tells import IN_PROCESS, MOVED, SPENT
from calibration.kernel.rounding import show
from calibration.runs.cause_rows import cured_by_setting, lying_in

IN_TEST = lying_in(ROWS, "test")


class ElectrodeJudge(Judge):
    """The judgement of a pH analyzer by buffers."""

    #: What it may be set from has limits of its own: of its sensors, its response or its zero.
    bound_percent = None

    repeats_with = "buffer"
    #: cleaning and a new electrode are steps of its methods
    repairs = False

    def test_at_fault(self, figures: RunFigures) -> str:
        """Return by which decision the test is repeated, where the cause lies in it."""
        first = figures.causes[0].cause if figures.causes else ""
        return REPEAT if first in IN_TEST else ""

    def hop(self, figures: RunFigures) -> str:
        """Return nothing: the strip and the causes say where it enters."""
        return ""

    def text(self, job: Reads, figures: RunFigures, spec: RunSpec, run: str) -> str:
        """Return slope and offset beside the last ones, and the error carried to the process."""
        if figures.result is None:
            return "The verdict grows with the readings."
        one = electrode_in(job, run)
        own = analyzer(job.ledger.facts)
        worst = max(
            (figures.taken[i].content for i in figures.order),
            key=lambda c: abs((c.digital if c.digital is not None else c.applied) - c.applied),
        )
        shown = worst.digital if worst.digital is not None else None
        said = ""
        if shown is not None:
            off = show(shown - worst.applied, 2, sign=True)
            said = f"Largest error {off} pH, in {show(worst.applied, 2)}."
        if one is None or one.line is None:
            return said
        last = ""
        if own.slope_percent is not None and own.offset_mv is not None:
            last = f" (last {show(own.slope_percent, 1)} %, {show(own.offset_mv, 1, sign=True)} mV)"
        said += (
            f" Slope {show(one.line.percent, 1)} %, offset "
            f"{show(one.line.offset_mv, 1, sign=True)} mV{last}."
        )
        if one.process is not None:
            said += (
                f" At pH {own.process_ph} that is {show(one.process.error, 2, sign=True)} pH, "
                f"U ±{show(one.process.u, 2)}."
            )
        return said.strip()

    def advice(self, job: Reads, figures: RunFigures) -> str:
        """Return what to do about the first cause; nothing where it only moved within limits."""
        if not figures.causes:
            return ""
        first = figures.causes[0]
        if figures.mark == "within" and first.cause in MOVED:
            return ""
        return first.remedy

    def choices(self, job: Reads, figures: RunFigures, step: Step) -> tuple[Choice, ...]:
        """Return what may be decided about the electrode."""
        outside = figures.mark == "outside"
        name = figures.causes[0].cause if figures.causes else ""
        # Of causes that look alike each must be cured by it: else it hides the other one.
        alike = {c.cause for c in figures.causes if c.confidence == figures.causes[0].confidence}
        cured = alike <= set(cured_by_setting(ROWS))
        if step.judges == "left":
            return (
                choice("adjust", "Calibrate again", cured, not cured, "A further round."),
                choice("stop", "Stop and report it", not cured, True, "It stays out of limits."),
            )
        if not job.ledger.method.sets:
            return (
                choice("leave", "Keep it in service", not outside, outside, "It reads right."),
                choice(
                    "stop",
                    "Have it cleaned and calibrated",
                    outside,
                    True,
                    "It is outside its limits; a check changes nothing.",
                ),
            )
        return self._of_calibration(job, figures, name, cured)

    def _of_calibration(
        self, job: Reads, figures: RunFigures, name: str, cured: bool
    ) -> tuple[Choice, ...]:
        outside, near = figures.mark == "outside", figures.mark == "near"
        always = job.settings.always_adjust
        fault = name if name not in MOVED else ""
        wanted = (outside or near or always or bool(fault)) and cured
        spent = name in SPENT and len(figures.causes) < 2
        leave = not outside and not wanted and not spent and name not in IN_PROCESS
        return (
            choice(
                "leave",
                "Leave it as it is",
                leave,
                not leave,
                "Within limits: calibrating would add the scatter of new buffers."
                if leave
                else "Right in buffers, and not what the process is."
                if name in IN_PROCESS
                else "Against the site rule.",
            ),
            choice(
                "adjust",
                "Program the right set, then calibrate"
                if name == "other_buffer_set"
                else "Clean it and calibrate",
                wanted,
                not wanted,
                "One set for analyzer and bottles, then fresh buffers."
                if name == "other_buffer_set"
                else "Cleaning and fresh buffers cure it."
                if wanted
                else "Put the cause right first, or calibrating hides it.",
            ),
            choice(
                "replace",
                "New electrode, then calibrate",
                spent,
                not spent,
                "This electrode does not come back."
                if spent
                else "Only for one that does not come back.",
            ),
            choice(
                "stop",
                "Stop and report it",
                bool(name) and not cured and not spent,
                True,
                "Put the cause right; then begin anew with a new job.",
            ),
        )
