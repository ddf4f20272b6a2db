"""A kind of run: what is applied, what is typed, what may count, and what it is called.

The class itself is a run at points of the input, each compared with what ought to be read;
families change what differs.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache
from typing import Literal

from calibration.engine.admission.entry_checks import ask_about_slips, refuse_off_target
from calibration.engine.job import events as ev
from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger, Taken
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.engine.view.columns import Column
from calibration.engine.view.state import Station
from calibration.kernel.codec import read
from calibration.kernel.rounding import trimmed
from calibration.runs.points import PlanIn, PlannedPoint, plan


@dataclass(frozen=True)
class Nothing:
    """What a kind of run adds to a reading: nothing."""


class RunKind:
    """A run of an instrument, point by point."""

    #: empty for the usual one of its family
    id = ""
    #: what a rig is told at a point
    order = "apply"
    scale: Literal["input", "percent"] = "input"
    #: further columns of a reading, as a dataclass
    adds: type = Nothing
    #: a picture of its points says something
    pictured = True
    #: errors, limits and U are said in the unit that is read, never in % of span
    in_unit = False
    #: zero, span, hysteresis and linearity can be told from its points
    characterised = True

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the instrument as the run sees it."""
        return ledger.facts

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return the test points."""
        own = tuple(Decimal(p) for p in spec.percents)
        percents = own or settings.percents
        past = "overshoot_percent"
        overshoot = settings.number(past) if settings.has(past) else None
        return _planned(
            PlanIn(
                input_lower=facts.input_lower,
                input_upper=facts.input_upper,
                points=5 if percents else settings.points,
                percents=percents,
                pattern=spec.pattern or settings.pattern,  # type: ignore[arg-type]
                cycles=1 if own else settings.cycles,
                overshoot_percent=overshoot or Decimal(0),
            )
        )

    def kit(self, ledger: Ledger, spec: RunSpec) -> Mapping[str, AssetFacts]:
        """Return the references whose accuracy counts in the run, by role."""
        return {role: chosen.asset for role, chosen in ledger.kit.items()}

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures of a run with readings, with what the family adds to them.

        ``run`` is the name of the readings: that of the run, or of what is adjusted from.
        """
        return found

    def counts(self, ledger: Ledger, spec: RunSpec, taken: Taken) -> Decimal:
        """Return by what a reading is judged: what was read, unless something was set before."""
        return taken.content.reading

    def admit(self, job: Reads, event: Event, spec: RunSpec, point: PlannedPoint) -> None:
        """Refuse a reading that cannot count; ask about one that looks like a slip."""
        columns_known(self, event.content)
        if event.source != "typed":
            return
        if not event.content.kept:
            ask_about_slips(job, event.content, point.nominal)
        if not self.applies_point:
            refuse_off_target(job, event.content, point.nominal)

    def complete(self, job: Reads, step: Step) -> bool:
        """Tell whether nothing keeps the step open once every point is read."""
        return True

    def title(self, job: Reads, spec: RunSpec) -> str:
        """Return the title of the run."""
        return spec.title

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return the values that are typed at a point, in their order."""
        return ("applied", "reading")

    #: the columns that the kind adds, or names in its own way
    own_columns: Mapping[str, Column] = {}
    #: what is applied is what the point says, not what was typed
    applies_point = False

    def target(self, facts: InstrumentFacts, point: PlannedPoint) -> Decimal:
        """Return what a rig is told to go to."""
        return point.nominal

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the name of a point; empty for its percentage."""
        return ""

    def answer(self, job: Reads, spec: RunSpec, index: int, content: ev.ReadingTaken) -> str:
        """Return what was read where no figure says it: yes or no; empty where one does."""
        return ""

    def words(self, facts: InstrumentFacts, point: PlannedPoint) -> str:
        """Return what is applied at a point, in words."""
        return f"{trimmed(point.nominal)} {facts.input_unit}"

    def equivalent(self, facts: InstrumentFacts, point: PlannedPoint) -> str:
        """Return what stands for a point besides its value."""
        return ""

    def in_input(self, facts: InstrumentFacts) -> bool:
        """Tell whether people say its error in the unit of the input, not in % of span."""
        return facts.transfer.curve is not None or facts.output_unit == facts.input_unit

    def stations(
        self, job: Reads, spec: RunSpec, figures: RunFigures, index: int, figure: str
    ) -> tuple[Station, ...]:
        """Return what each station showed at a point that has a reading; none for no strip."""
        return ()

    def direction(self, figures: RunFigures) -> str:
        """Return the way the next point is reached; empty where it does not matter."""
        return ""

    def caution(self, step: Step, figures: RunFigures) -> str:
        """Return what to be careful about at the next point."""
        return step.caution

    def following(self, figures: RunFigures) -> str:
        """Return the points after the next; empty for the steps after the run."""
        return ""


@lru_cache(maxsize=256)
def _planned(request: PlanIn) -> tuple[PlannedPoint, ...]:
    return plan(request).points


def columns_known(kind: RunKind, content: ev.ReadingTaken) -> None:
    """Refuse a reading with columns that the run does not have."""
    read(kind.adds, content.own, "data")


def stands_for(kind: RunKind, point: PlannedPoint) -> str:
    """Return what is sent as applied where it is not typed; empty elsewhere."""
    return str(point.nominal) if kind.applies_point else ""
