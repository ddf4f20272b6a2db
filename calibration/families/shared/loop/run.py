"""The run of an instrument in a current loop: its input, its output, the control room."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.engine.method.run_kind import RunKind
from calibration.engine.view.state import Station
from calibration.families.shared.loop.strip import stations
from calibration.kernel.rounding import trimmed


class LoopRun(RunKind):
    """The run of a transmitter, point by point, each approached from one side."""

    #: the digital value can be read beside the output
    reads_digital = True
    #: a point is approached from one side, and the turning point is gone past
    approached = True
    gone_past = True

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return input, digital value, output and control room, where there are such."""
        facts = figures.facts
        digital = ("digital",) if facts.smart and self.reads_digital else ()
        shown = ("indicated",) if facts.indicated else ()
        return ("applied", *digital, "reading", *shown)

    def stations(
        self, job: Reads, spec: RunSpec, figures: RunFigures, index: int, figure: str
    ) -> tuple[Station, ...]:
        """Return the loop strip of a point that has a reading."""
        content = figures.taken[index].content
        return stations(
            figures.facts,
            content.applied,
            content.digital,
            content.reading,
            content.indicated,
            figure,
        )

    def direction(self, figures: RunFigures) -> str:
        """Return the way the next point is reached, in runs that go up and come down."""
        if not self.approached or len({p.direction for p in figures.plan}) < 2:
            return ""
        up = figures.plan[max(0, figures.current)].direction == "up"
        return "going up" if up else "coming down"

    def caution(self, step: Step, figures: RunFigures) -> str:
        """Return from which side the next point is reached."""
        index = max(0, figures.current)
        if index == 0 or not self.approached:
            return step.caution
        facts, point = figures.facts, figures.plan[index]
        side = "below" if point.direction == "up" else "above"
        if facts.input_upper < facts.input_lower:
            side = "above" if side == "below" else "below"
        if point.approach is not None and self.gone_past:
            beyond = f"{trimmed(point.approach)} {facts.input_unit}"
            return f"First go to {beyond}, as far as ratings allow, then come from {side} only."
        if step.caution:
            return step.caution
        return (
            f"Come from {side} only. If you pass {self.words(facts, point)}, go back and come "
            "again, or the up-and-down difference means nothing."
        )

    def following(self, figures: RunFigures) -> str:
        """Return the next few points."""
        if not self.approached:
            return ""
        unit = figures.facts.input_unit
        rest = figures.plan[max(0, figures.current) + 1 :][:3]
        return ", ".join(f"{trimmed(p.nominal)} {unit}" for p in rest)
