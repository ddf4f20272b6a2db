"""The run in span gas: one point, judged with its causes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from decimal import Decimal

from calibration.decisions.tolerance import Tolerance
from calibration.engine.admission.entry_checks import ask_about_slips
from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec
from calibration.engine.method.run_kind import RunKind, columns_known
from calibration.engine.view.columns import Column
from calibration.engine.view.state import Station
from calibration.families.trace.bleeding import left_percent, too_much_left
from calibration.families.trace.causes import named
from calibration.families.trace.events import InSpan
from calibration.families.trace.strip import trace_stations
from calibration.families.trace.values import as_read, nominal, process
from calibration.families.trace.words import FITTED, GAS, NEW_WITHIN, SpanRun
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, parse_decimal
from calibration.kernel.rounding import show
from calibration.runs.causes import cause
from calibration.runs.points import PlannedPoint


def _unjudged(found: RunFigures) -> RunFigures:
    return replace(found, mark="none", marks=tuple("none" for _ in found.marks))


def _air(left: Decimal) -> str:
    """Return how much air is left in the regulator; in words where it was not bled."""
    return "not bled" if left > HUNDRED else f"{show(left, 1)} %"


class InSpanGas(RunKind):
    """Span gas over the sensor; or the process, while a sensor comes down."""

    id = "span_gas"
    order = "valve"
    adds = InSpan
    own_columns = {
        "minute_before": Column("A minute before", "ppm"),
    }
    pictured = False
    characterised = False
    applies_point = True

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the analyzer as it is read; a new sensor that was not set yet may be far off."""
        facts = as_read(ledger)
        if spec.role != "found" or ledger.method.step(FITTED) is None:
            return facts
        own = ledger.opened.parameters.get(NEW_WITHIN)
        share = own.value if own is not None else ledger.method.default(NEW_WITHIN)
        limit = Tolerance(
            combine="greatest",
            percent_of_span=Decimal(1),
            percent_of_reading=parse_decimal(share, NEW_WITHIN),
        )
        return replace(facts, tolerance=limit, tolerance_source="new sensor, before it is set")

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return one point: what it is to show."""
        down = isinstance(spec, SpanRun) and spec.settles
        value = process(ledger).shown if down else nominal(ledger)
        percent = HUNDRED * (value - facts.input_lower) / facts.transfer.input_span
        return (
            PlannedPoint(
                nominal_percent=percent, nominal=value, direction="up", cycle=1, approach=None
            ),
        )

    def kit(self, ledger: Ledger, spec: RunSpec) -> Mapping[str, AssetFacts]:
        """Return the references of the run; a sensor that comes down is compared with none."""
        down = isinstance(spec, SpanRun) and spec.settles
        return {
            role: chosen.asset for role, chosen in ledger.kit.items() if not (down and role == GAS)
        }

    def in_input(self, facts: InstrumentFacts) -> bool:
        """Tell that errors are said in ppm."""
        return True

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures with causes; a sensor that comes down is not judged."""
        if isinstance(spec, SpanRun) and spec.settles:
            return _unjudged(found)
        if left := too_much_left(job):
            # By a gas that is not what its label says nothing is judged, nor named.
            remedy = "Bleed the regulator, then test again."
            return replace(_unjudged(found), causes=(cause("unbled_regulator", 0, left, remedy),))
        return replace(found, causes=named(job, run, found))

    def admit(self, job: Reads, event: Event, spec: RunSpec, point: PlannedPoint) -> None:
        """Ask about a reading that looks like a slip; its display may show past its range.

        Raises
        ------
        InputError
            ``slip.suspected``, ``number.range``.
        """
        columns_known(self, event.content)
        down = isinstance(spec, SpanRun) and spec.settles
        if event.content.applied <= 0 and not down:
            raise InputError(
                "number.range",
                "data.applied",
                "A span gas holds more than 0 ppm.",
                "Take the value of the cylinder.",
            )
        if not event.content.kept and event.source == "typed" and not down:
            ask_about_slips(job, event.content, point.nominal)

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return display, output, control room, and what it showed a minute before."""
        facts = figures.facts
        digital = ("digital",) if facts.smart and facts.output_unit == "mA" else ()
        shown = ("indicated",) if facts.indicated else ()
        return (*digital, "reading", *shown, "minute_before")

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the name of the point."""
        return "Process" if isinstance(spec, SpanRun) and spec.settles else "Span gas"

    def stations(
        self, job: Reads, spec: RunSpec, figures: RunFigures, index: int, figure: str
    ) -> tuple[Station, ...]:
        """Return the strip from the cylinder to the control room."""
        content = figures.taken[index].content
        chosen = job.ledger.kit.get(GAS)
        down = isinstance(spec, SpanRun) and spec.settles
        left = left_percent(job.ledger)
        return trace_stations(
            figures.facts,
            chosen.asset.asset if chosen is not None and not down else "",
            _air(left) if left and not down else "",
            content.applied,
            content.digital,
            content.reading,
            content.indicated,
            figure,
        )


IN_SPAN_GAS = InSpanGas()
