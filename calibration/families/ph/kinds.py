"""The run in buffers, and what its references add to the uncertainty."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from calibration.analyzers.ph.buffers import find_table, value_at
from calibration.decisions.uncertainty import Contribution
from calibration.engine.admission.entry_checks import ask_about_slips
from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.engine.method.run_kind import RunKind, columns_known
from calibration.engine.view.columns import Column
from calibration.engine.view.state import Station
from calibration.families.ph import admit
from calibration.families.ph.causes import evidence_of, in_buffer, named
from calibration.families.ph.events import InBuffer
from calibration.families.ph.facts import bottle
from calibration.families.ph.ledger import buffers_of
from calibration.families.ph.naming import line_of
from calibration.families.ph.strip import buffer_stations
from calibration.families.ph.values import roles_of, table_for, value_of
from calibration.families.ph.words import BufferRun
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.runs.points import PlannedPoint

#: What the junction of an electrode adds in any liquid: 0.01 to 0.05 by its kind. [pH]
JUNCTION_PH = 0.02


class Buffers(RunKind):
    """Buffers in which the electrode stands, one after the other."""

    id = "buffers"
    order = "buffer"
    adds = InBuffer
    own_columns = {
        "mv": Column("Electrode", "mV", needed=True),
        "digital": Column("Analyzer shows", "pH"),
        "t90_s": Column("Time to 90 %", "s"),
    }
    pictured = False
    characterised = False
    applies_point = True

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return a point for each buffer, worth what it is at its temperature."""
        found = []
        for role in roles_of(ledger, settings, spec):
            value = value_of(ledger, spec, role)
            percent = HUNDRED * (value - facts.input_lower) / facts.transfer.input_span
            found.append(
                PlannedPoint(
                    nominal_percent=percent, nominal=value, direction="up", cycle=1, approach=None
                )
            )
        return tuple(found)

    def in_input(self, facts: InstrumentFacts) -> bool:
        """Tell that errors are said in pH."""
        return True

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures with causes; what the analyzer is about to take is not judged."""
        if isinstance(spec, BufferRun) and spec.accepts:
            return replace(found, mark="none", marks=tuple("none" for _ in found.marks))
        found = replace(found, causes=named(job, run, found))
        return replace(found, mark="outside") if self._unfit(job, run, found) else found

    def _unfit(self, job: Reads, run: str, figures: RunFigures) -> bool:
        """Tell whether the electrode itself is beyond a limit: slope, offset or answer."""
        seen = evidence_of(job, run, figures)
        if seen is None or not figures.complete:
            return False
        if any(b.t90_s is not None and b.t90_s > seen.t90_limit_s for b in seen.buffers):
            return True
        if any(c.cause in ("temperature_sensor", "other_buffer_set") for c in figures.causes):
            return True
        for b in seen.buffers[1:]:
            line = line_of(seen.buffers[0], b, seen.warm_c)
            if not seen.slope_low <= line.percent <= seen.slope_high:
                return True
            if abs(line.offset_mv) > seen.offset_limit_mv:
                return True
        return False

    def admit(self, job: Reads, event: Event, spec: RunSpec, point: PlannedPoint) -> None:
        """Refuse a reading in no buffer; ask about one that looks like a slip."""
        columns_known(self, event.content)
        assert isinstance(spec, BufferRun)
        admit.reading(job, event, spec)
        if not event.content.kept and event.source == "typed":
            ask_about_slips(job, event.content, point.nominal)

    def complete(self, job: Reads, step: Step) -> bool:
        """Tell whether the analyzer took every buffer, where it is to."""
        spec = job.ledger.method.run(step.run)
        if not isinstance(spec, BufferRun) or not spec.accepts:
            return True
        taken = buffers_of(job.ledger).accepted
        return all(r in taken for r in roles_of(job.ledger, job.settings, spec))

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return millivolts, display, output, control room and how long it took."""
        facts = figures.facts
        digital = ("digital",) if facts.smart else ()
        shown = ("indicated",) if facts.indicated else ()
        return ("mv", *digital, "reading", *shown, "t90_s")

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the name of a buffer."""
        return (
            f"pH {table_for(job.ledger, roles_of(job.ledger, job.settings, spec)[index]).nominal}"
        )

    def words(self, facts: InstrumentFacts, point: PlannedPoint) -> str:
        """Return the value of a buffer."""
        return f"pH {point.nominal}"

    def stations(
        self, job: Reads, spec: RunSpec, figures: RunFigures, index: int, figure: str
    ) -> tuple[Station, ...]:
        """Return the strip from the buffer to the control room."""
        content = figures.taken[index].content
        recorded = job.ledger.recorded
        poured = spec.poured if isinstance(spec, BufferRun) else ""
        true_c, shown_c = (
            recorded.get((poured, f), ("", None))[0] for f in ("buffer_c", "shown_c")
        )
        return buffer_stations(
            figures.facts,
            content.applied,
            in_buffer(content.own).mv,
            (true_c, shown_c),
            content.digital,
            content.reading,
            content.indicated,
            figure,
        )


def of_bottle(
    facts: InstrumentFacts, asset: AssetFacts, applied: Decimal
) -> tuple[Contribution, ...]:
    """Return what a bottle adds in its own buffer: its value, and the junction. [% of span]

    Other bottles of the job add nothing there.
    """
    if abs(Decimal(bottle(asset).nominal) - applied) > Decimal("0.6"):
        return ()
    per_ph = 100 / to_float(abs(facts.transfer.input_span))
    return (
        Contribution(
            name=f"Buffer {bottle(asset).nominal}, {asset.asset}",
            value=per_ph * to_float(asset.spec.absolute),
            kind="limit",
        ),
        Contribution(name="Junction of the electrode", value=per_ph * JUNCTION_PH, kind="limit"),
    )


def of_thermometer(
    facts: InstrumentFacts, asset: AssetFacts, applied: Decimal
) -> tuple[Contribution, ...]:
    """Return what the temperature of the buffer adds, by its table and by the slope. [% of span]"""
    per_ph = 100 / to_float(abs(facts.transfer.input_span))
    ph = to_float(applied)
    name = min(("4.006", "6.865", "9.180"), key=lambda n: abs(float(n) - ph))
    table = find_table("primary", name, (), "asset")
    moves = abs(value_at(table, 30, "t") - value_at(table, 20, "t")) / 10
    slope = abs(ph - 7) / 298.15
    return (
        Contribution(
            name=f"Temperature, {asset.asset}",
            value=per_ph * (moves + slope) * to_float(asset.spec.absolute),
            kind="limit",
        ),
    )


BUFFERS = Buffers()
