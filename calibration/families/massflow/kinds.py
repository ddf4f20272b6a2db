"""The runs of a mass flow meter: a live zero, and runs against a quantity."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import replace
from decimal import Decimal

from calibration.decisions.tolerance import Tolerance
from calibration.decisions.uncertainty import Contribution
from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures, evaluate_run, weighed
from calibration.engine.method.method import RunSpec
from calibration.engine.method.run_kind import columns_known
from calibration.engine.view.blocks import Mark
from calibration.engine.view.columns import Column
from calibration.families.massflow.events import LiveZero
from calibration.families.massflow.evidence import (
    beside,
    parts_of_zero,
    proof,
    proved,
    zero_of,
)
from calibration.families.massflow.facts import meter
from calibration.families.massflow.naming import causes_of, causes_proved
from calibration.families.massflow.words import REFERENCE
from calibration.families.shared.display import UNMARKED, AtDisplay, no_better, point
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.measuring.massflow import LEAST_S
from calibration.runs.points import PlannedPoint


class LiveZeros(AtDisplay):
    """One point: the live zero, with nothing flowing."""

    id = "live_zero"
    order = "zero"
    source = "Blocked in"
    adds = LiveZero
    own_columns = {
        "reading": Column("Live zero, mean", "kg/h"),
        "spread": Column("Scatter of it", "kg/h", needed=True),
        "mean_s": Column("Mean over", "s", needed=True),
        "drive_gain": Column("Drive gain", "%", needed=True),
        "density": Column("Density", "kg/m³", needed=True),
    }
    applies_point = True

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the meter as its zero is judged: by its zero stability."""
        own = meter(ledger.facts)
        return replace(
            ledger.facts,
            tolerance=Tolerance(absolute=own.zero_stability),
            tolerance_source="zero stability, by its maker",
        )

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return one point: no flow."""
        return (point(Decimal(0), facts),)

    def kit(self, ledger: Ledger, spec: RunSpec) -> Mapping[str, AssetFacts]:
        """Return nothing: no flow is what it is compared with."""
        return {}

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures with a budget of the zero's own, and causes."""
        content = found.taken[found.order[0]].content
        full = to_float(found.facts.transfer.input_span)
        found = weighed(found, job.settings, lambda p: parts_of_zero(content, full))
        seen = zero_of(job, found)
        causes = causes_of(seen) if seen is not None else ()
        disturbed = bool(causes) and causes[0].cause in DISTURBED
        mark: Mark = "outside" if disturbed else found.mark
        return no_better(found, mark, causes if spec.role == "found" else ())

    def admit(self, job: Reads, event: Event, spec: RunSpec, point: PlannedPoint) -> None:
        """Refuse a zero that is hidden, or a mean over too little time.

        Raises
        ------
        InputError
            ``zero.hidden``, ``zero.too_short``, ``number.range``.
        """
        columns_known(self, event.content)
        own = beside(event.content)
        for name, value in vars(own).items():
            if value is not None and value < 0:
                raise InputError(
                    "number.range", f"data.{name}", "That cannot be negative.", "Read it again."
                )
        if event.content.reading == 0 and not own.spread:
            raise InputError(
                "zero.hidden",
                "data.reading",
                "Exactly 0 without scatter: a low-flow cut-off or a one-way output hides the zero.",
                "Show the live zero, with the cut-off out of the way, and read that.",
            )
        if own.mean_s is not None and own.mean_s < LEAST_S:
            raise InputError(
                "zero.too_short",
                "data.mean_s",
                f"A mean over {own.mean_s:f} s says little of a zero that breathes.",
                f"Watch it for {LEAST_S} s or more.",
            )

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return live zero, scatter, time, gain and density."""
        return ("reading", "spread", "mean_s", "drive_gain", "density")

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the name of the point."""
        return "No flow"


#: While one of these is there the zero means nothing.
DISTURBED = ("gas_in_it", "not_full", "solids_in_it", "crosstalk")


class Proving(AtDisplay):
    """Runs at one flow, each a quantity that is known."""

    id = "proved_runs"
    order = "batch"
    source = "Reference"

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the meter as a counter of mass."""
        own = meter(ledger.facts)
        top = 2 * own.batch_kg
        return replace(
            ledger.facts,
            input_unit="kg",
            input_lower=Decimal(0),
            input_upper=top,
            output_unit="kg",
            output_lower=Decimal(0),
            output_upper=top,
            tolerance=Tolerance(percent_of_reading=own.prove_percent),
            tolerance_source="limit of proving",
        )

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return as many runs as the site wants."""
        own = meter(ledger.facts)
        return (point(own.batch_kg, facts),) * int(settings.number("runs"))

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures by mean and range of all runs: one by itself says little."""
        chosen, out = job.ledger.kit.get(REFERENCE), proof(job, found)
        if chosen is None or out is None:
            return replace(found, mark="none", marks=UNMARKED * len(found.marks))
        found = _as_masses(job, run, found, 1 + out.buoyancy_percent / HUNDRED)
        u = to_float(out.uncertainty_percent)
        name = f"{chosen.asset.asset} and {len(found.order)} runs"
        half = to_float(meter(job.ledger.facts).batch_kg / found.facts.input_upper)
        part = Contribution(name=name, value=u * half, kind="expanded")
        found = weighed(found, job.settings, lambda p: (part,))
        mark: Mark = "within" if out.within else "outside"
        seen = proved(job, out, found.complete)
        causes = causes_proved(seen) if seen is not None else ()
        return no_better(found, mark, causes)

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return what the reference says, and what was counted."""
        return ("applied", "reading")

    own_columns = {
        "applied": Column("Reference says", "kg"),
        "reading": Column("Meter counted", "kg"),
    }

    def admit(self, job: Reads, event: Event, spec: RunSpec, point: PlannedPoint) -> None:
        """Refuse a run without a quantity; a run is of any size.

        Raises
        ------
        InputError
            ``number.range``, ``slip.suspected``.
        """
        columns_known(self, event.content)
        for name in ("applied", "reading"):
            if getattr(event.content, name) <= 0:
                raise InputError(
                    "number.range", f"data.{name}", "A run is more than 0 kg.", "Read it again."
                )
        off = abs(event.content.reading / event.content.applied - 1)
        if event.source == "typed" and not event.content.kept and off > SLIP:
            raise InputError(
                "slip.suspected",
                "data.reading",
                f"Meter and reference are {100 * off:.1f} % apart. Keep it?",
                "Correct it or keep it.",
            )

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the number of the run."""
        return f"Run {index + 1}"


def _as_masses(job: Reads, run: str, found: RunFigures, air: Decimal) -> RunFigures:
    """Return figures against the mass that was there; what was read stays as it was read."""
    masses = {
        i: replace(t, content=replace(t.content, applied=t.content.applied * air))
        for i, t in found.taken.items()
    }
    ledger = replace(job.ledger, readings=defaultdict(dict, {run: masses}))
    told = evaluate_run(ledger, job.settings, run, found.facts, found.plan, {})
    return replace(told, taken=found.taken, left_out=found.left_out)


#: A counted quantity so far from the reference is asked about. [share]
SLIP = Decimal("0.05")
LIVE_ZERO, PROVED_RUNS = LiveZeros(), Proving()
