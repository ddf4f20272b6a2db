"""The judgement of an instrument by the causes that its family names."""

from __future__ import annotations

from dataclasses import dataclass

from calibration.engine.job.ledger import REPEAT, REPEAT_OTHER
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import Step
from calibration.engine.view.asks import Choice
from calibration.engine.view.judge import Judge, choice, of_check
from calibration.runs.cause_rows import Rows, cured_by_setting


@dataclass(frozen=True, kw_only=True)
class Words:
    """What the decisions of a family are called, and why."""

    leave: str
    leave_why: str
    adjust: str
    adjust_why: str
    hides: str
    again: str
    stop: str = "Put the cause right; say what is done."


class CauseJudge(Judge):
    """Adjusting is advised only where one cause is named and adjusting is its remedy."""

    #: what is known of its causes
    rows: Rows
    words: Words

    def test_at_fault(self, figures: RunFigures) -> str:
        """Return by which decision the test is repeated, where the likeliest cause lies in it."""
        first = figures.causes[0].cause if figures.causes else ""
        row = self.rows.get(first)
        if row is None or row.lies_in == "instrument":
            return ""
        return REPEAT_OTHER if row.lies_in == "reference" else REPEAT

    def hop(self, figures: RunFigures) -> str:
        """Return nothing: the causes say where it enters."""
        return ""

    def advice(self, job: Reads, figures: RunFigures) -> str:
        """Return what to do about the first cause."""
        return figures.causes[0].remedy if figures.causes else ""

    def cured(self, figures: RunFigures) -> bool:
        """Tell whether setting cures what is named: one cause, or none that is known."""
        names = [c.cause for c in figures.causes]
        return not names or (len(names) == 1 and names[0] in cured_by_setting(self.rows))

    def choices(self, job: Reads, figures: RunFigures, step: Step) -> tuple[Choice, ...]:
        """Return what may be decided about a complete run."""
        words, outside = self.words, figures.mark == "outside"
        cured = self.cured(figures)
        if step.judges == "check":
            return of_check(figures)
        if step.judges == "left":
            return (
                choice("adjust", words.again, cured, not cured, "A further round."),
                choice("stop", "Stop and report it", not cured, True, "It stays out of limits."),
            )
        off = outside or figures.mark == "near" or job.settings.always_adjust
        wanted = cured and off and job.ledger.method.left is not None
        leave = not outside and not wanted
        found = [
            choice(
                "leave",
                words.leave,
                leave,
                not leave,
                words.leave_why if leave else "Against the site rule.",
            )
        ]
        if job.ledger.method.left is not None:
            found.append(
                choice(
                    "adjust",
                    words.adjust,
                    wanted,
                    not wanted,
                    words.adjust_why if wanted else words.hides,
                )
            )
        stop = outside and not wanted
        found.append(choice("stop", "Stop and report it", stop, True, words.stop))
        return tuple(found)
