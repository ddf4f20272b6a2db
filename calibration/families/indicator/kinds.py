"""Nothing, a load and another one on a platform."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from decimal import Decimal

from calibration.decisions.tolerance import limit_at
from calibration.decisions.uncertainty import Contribution
from calibration.engine.admission.entry_checks import ask_about_slips
from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures, weighed
from calibration.engine.method.method import RunSpec
from calibration.engine.method.run_kind import columns_known
from calibration.engine.view.columns import Column
from calibration.families.indicator.cause_rows import ROWS
from calibration.families.indicator.facts import factor_on_record, indicator, noted, weights
from calibration.families.indicator.naming import Weighed, causes_of
from calibration.families.shared.differential import told
from calibration.families.shared.display import AtDisplay, point
from calibration.families.shared.weights import hung, parts_of, whole_kg
from calibration.kernel.numbers import to_float
from calibration.kernel.rounding import trimmed
from calibration.runs.points import PlannedPoint

#: What is taken where no set is chosen yet, and what checks it, as a share of the load.
SHARE, ANOTHER = Decimal("0.5"), Decimal("0.5")


def top_load(ledger: Ledger) -> Decimal:
    """Return the load of all weights that the platform may bear. [kg]"""
    own, most = weights(ledger), ledger.facts.input_upper
    found = hung(own, min(most, whole_kg(own))) if own is not None else None
    return found.out.conventional_kg if found is not None else most * SHARE


def words(job: Reads, load: Decimal) -> str:
    """Return what stands for a load, in words."""
    own = weights(job.ledger)
    if own is None or load <= 0:
        return "nothing"
    found = hung(own, load * Decimal("1.0005"))
    return found.words if found is not None else f"{trimmed(load)} kg"


class OnPlatform(AtDisplay):
    """Loads on a platform."""

    id = "on_platform"
    order = "load"
    source = "On it"
    own_columns = {
        "reading": Column("Shown", "kg"),
    }
    applies_point = True

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return nothing, the load, and another one that checks it."""
        own, top = weights(ledger), top_load(ledger)
        half = hung(own, top * ANOTHER) if own is not None else None
        other = half.out.conventional_kg if half is not None else top * ANOTHER
        return (
            point(Decimal(0), facts),
            point(top, facts),
            point(other, facts, "down"),
        )

    def kit(self, ledger: Ledger, spec: RunSpec) -> Mapping[str, AssetFacts]:
        """Return nothing: the budget holds the weights as they stand."""
        return {}

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures with a budget of each load, and causes."""
        own, step = weights(job.ledger), indicator(job.ledger.facts).indicator_step
        span = to_float(found.facts.transfer.input_span)

        def parts(at: object) -> tuple[Contribution, ...]:
            applied: Decimal = at.applied  # type: ignore[attr-defined]
            value = 100 * to_float(step) / span
            shown = Contribution(name="Step of the display", value=value, kind="resolution")
            return (*(parts_of(own, applied, span) if own is not None else ()), shown)

        found = weighed(found, job.settings, parts)
        if spec.role != "found" or not found.complete:
            return replace(found, causes=())
        causes = causes_of(evidence_of(job, found))
        in_test = bool(causes) and ROWS[causes[0].cause].lies_in != "instrument"
        return replace(found, causes=causes, mark="outside" if in_test else found.mark)

    def admit(self, job: Reads, event: Event, spec: RunSpec, point: PlannedPoint) -> None:
        """Ask about a reading that looks like a slip."""
        columns_known(self, event.content)
        if event.source == "typed" and not event.content.kept:
            ask_about_slips(job, event.content, point.nominal)

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return what is shown."""
        return ("reading",)

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the name of a load."""
        return ("Nothing", "Load", "Another")[index]


def evidence_of(job: Reads, figures: RunFigures) -> Weighed:
    """Return what a complete run says."""
    facts, span = figures.facts, to_float(figures.facts.transfer.input_span)
    zero, load = (figures.taken[i].content for i in (0, 1))
    limits = [to_float(limit_at(facts.transfer, facts.tolerance, c.applied)) for c in (zero, load)]
    was, found = (
        factor_on_record(job.ledger.facts),
        noted(job.ledger, "settings", "cell_factor"),
    )
    return Weighed(
        capacity=span,
        load=to_float(load.applied),
        limit=limits[1],
        zero_limit=limits[0],
        u=max(b.expanded_uncertainty for b in figures.budgets) * span / 100,
        zero=to_float(zero.reading),
        shows=to_float(load.reading),
        factor=to_float(found / was) if found is not None and was else None,
        apart=told(job.ledger),
    )


ON_PLATFORM = OnPlatform()
