"""The runs of a verification: the lines of the tester, and the output in the control room."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from decimal import Decimal

from calibration.decisions.tolerance import Tolerance
from calibration.decisions.uncertainty import Contribution
from calibration.engine.admission.entry_checks import ask_about_slips
from calibration.engine.job.events import Event, ReadingTaken
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures, weighed
from calibration.engine.method.method import RunSpec
from calibration.engine.method.run_kind import columns_known
from calibration.engine.view.columns import Column
from calibration.engine.view.state import Station
from calibration.families.magmeter.cause_rows import ROWS
from calibration.families.magmeter.facts import TestLine, meter, noted, tester
from calibration.families.magmeter.ledger import judged, part_of, values_of
from calibration.families.magmeter.naming import Line, Tested, causes_of
from calibration.families.magmeter.words import ROLE, RUN_FIELDS, limit_of
from calibration.families.shared.differential import told
from calibration.families.shared.display import AtDisplay, point, station
from calibration.families.shared.naming import sure
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.kernel.rounding import as_typed, show, trimmed
from calibration.runs.points import PlannedPoint

#: Currents at which the control room is read. [mA]
CURRENTS = (Decimal(4), Decimal(12), Decimal(20))


class TesterLines(AtDisplay):
    """Every line as the share of its limit by which it is off."""

    id = "tester_lines"
    order = "test"
    source = "Stored value"
    own_columns = {
        "reading": Column("Off by", "% of its limit"),
    }
    applies_point = True

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the meter as its lines are judged: by shares of their limits."""
        return replace(
            ledger.facts,
            input_unit="% of limit",
            input_lower=Decimal(0),
            input_upper=HUNDRED,
            output_unit="% of limit",
            output_lower=Decimal(0),
            output_upper=HUNDRED,
            tolerance=Tolerance(absolute=HUNDRED),
            tolerance_source="its maker",
        )

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return a point for each line."""
        return (point(Decimal(0), facts),) * len(meter(ledger.facts).lines)

    def kit(self, ledger: Ledger, spec: RunSpec) -> Mapping[str, AssetFacts]:
        """Return nothing: the budget holds the tester line by line."""
        return {}

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures with what the tester adds to each line, and causes."""
        chosen = job.ledger.kit.get(ROLE)
        u = tester(chosen.asset).uncertainty_percent if chosen is not None else Decimal(0)
        own = meter(job.ledger.facts).lines
        parts = iter([_parts(own[i], u) for i in found.order])
        found = weighed(found, job.settings, lambda p: next(parts))
        seen = evidence_of(job)
        return replace(found, causes=causes_of(seen) if seen is not None else ())

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return by how much a line is off."""
        return ("reading",)

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the name of a line."""
        return meter(job.ledger.facts).lines[index].label

    def answer(self, job: Reads, spec: RunSpec, index: int, content: ReadingTaken) -> str:
        """Return yes or no where that is what a line says."""
        if meter(job.ledger.facts).lines[index].kind != "yes_no":
            return ""
        return "no" if content.reading else "yes"

    def stations(
        self, job: Reads, spec: RunSpec, figures: RunFigures, index: int, figure: str
    ) -> tuple[Station, ...]:
        """Return what is stored, what the tester says, and which share of the limit that is."""
        line, taken = meter(job.ledger.facts).lines[index], figures.taken[index]
        said = values_of(job.ledger, taken.event.content)[line.id]
        off, answer = taken.content.reading, self.answer(job, spec, index, taken.content)
        bad = abs(off) > HUNDRED
        return (
            station(
                "applied",
                label=f"{line.label}, stored",
                value="yes" if answer else trimmed(line.reference),
                unit=line.unit,
                remark="" if answer else limit_of(line),
            ),
            station(
                "output",
                label="Tester says",
                value=answer or as_typed(said),
                unit=line.unit,
                bad=bad,
            ),
            *(
                ()
                if answer
                else (
                    station(
                        f"{figure}.whole", label="Of its limit", value=show(abs(off), 1), unit="%"
                    ),
                )
            ),
        )


def _parts(line: TestLine, u_percent: Decimal) -> tuple[Contribution, ...]:
    """Return what a tester adds to the share of a limit. [% of the limit]"""
    if line.kind in ("yes_no", "at_least"):
        return (Contribution(name="Tester", value=0.0, kind="limit"),)
    limit = line.limit if line.kind == "absolute" else None
    size = (
        abs(line.reference) * u_percent / limit
        if limit
        else HUNDRED * u_percent / line.limit_percent
    )
    return (Contribution(name="Tester", value=to_float(size), kind="expanded"),)


def evidence_of(job: Reads) -> Tested | None:
    """Return what the newest lines say; none before they were read."""
    every = part_of(job.ledger).every
    if not every or not job.ledger.readings[job.ledger.method.found.id]:
        return None
    ledger, own = job.ledger, meter(job.ledger.facts)
    outs = judged(ledger, values_of(ledger, every[-1][1]))
    readings = ledger.readings[ledger.method.found.id]
    lines = []
    for n, (line, out) in enumerate(zip(own.lines, outs, strict=True)):
        off = out.deviation_percent
        if out.at_20_c is not None:
            off = HUNDRED * (out.at_20_c / line.reference - 1)
        lines.append(
            Line(
                id=line.id,
                label=line.label,
                part=line.part,
                kind=line.kind,
                passed=out.passed,
                share=to_float(readings[n].content.reading),
                off_percent=to_float(off) if off is not None else 0.0,
                copper=line.copper,
            )
        )
    return Tested(
        lines=tuple(lines),
        coil_c=to_float(noted(ledger, RUN_FIELDS, "coil_c") or Decimal(20)),
        conductivity=to_float(own.conductivity_us_cm),
        apart=told(ledger),
    )


class LiveOutput(AtDisplay):
    """Currents that the meter gives, as the control room shows them."""

    id = "live_currents"
    order = "fix"
    source = "Meter gives"
    own_columns = {
        "reading": Column("Control room shows", "mA"),
    }
    applies_point = True

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the output of the meter."""
        return replace(
            ledger.facts,
            input_unit="mA",
            input_lower=Decimal(4),
            input_upper=Decimal(20),
            output_unit="mA",
            output_lower=Decimal(4),
            output_upper=Decimal(20),
            tolerance=Tolerance(absolute=meter(ledger.facts).live_limit_ma),
            tolerance_source="its maker",
        )

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return a point for each current."""
        return tuple(point(current, facts) for current in CURRENTS)

    def kit(self, ledger: Ledger, spec: RunSpec) -> Mapping[str, AssetFacts]:
        """Return nothing: the meter gives the current, the control room shows it."""
        return {}

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures; a current that does not arrive is a wire."""
        if found.mark != "outside" or not found.complete:
            return found
        off = max(abs(t.content.reading - t.content.applied) for t in found.taken.values())
        same = max(t.content.reading for t in found.taken.values()) - min(
            t.content.reading for t in found.taken.values()
        ) < Decimal(1)
        name = "wire_not_back" if same else "mag_output_off"
        said = f"The control room is {off:f} mA off" + (", whatever is given." if same else ".")
        return replace(found, causes=sure(name, to_float(off * 100 / 16), said, ROWS))

    def admit(self, job: Reads, event: Event, spec: RunSpec, point: PlannedPoint) -> None:
        """Ask about a current that looks like a slip."""
        columns_known(self, event.content)
        if event.source == "typed" and not event.content.kept:
            ask_about_slips(job, event.content, point.nominal)

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return what the control room shows."""
        return ("reading",)

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the current."""
        return f"{CURRENTS[index]} mA"


LINES, OUTPUT = TesterLines(), LiveOutput()
