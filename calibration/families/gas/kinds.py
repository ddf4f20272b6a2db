"""A run with gas: its points are the gases that are applied to one channel."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from decimal import Decimal
from functools import lru_cache

from calibration.decisions.tolerance import Tolerance, limit_at
from calibration.decisions.uncertainty import Contribution
from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger, Taken
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec, Step
from calibration.engine.method.run_kind import RunKind, columns_known
from calibration.engine.view.blocks import Mark
from calibration.engine.view.columns import Column
from calibration.engine.view.state import Station
from calibration.families.gas import airproof
from calibration.families.gas.admit import gas_reading
from calibration.families.gas.causes import gas_causes
from calibration.families.gas.events import Answer
from calibration.families.gas.exposure import exposes, seen_of, unset
from calibration.families.gas.facts import channels, contents
from calibration.families.gas.gases import (
    answer,
    gas_facts,
    gas_plan,
    gases_of,
    left_on,
    role_for,
    shows,
)
from calibration.families.gas.outcomes import unsettled
from calibration.families.gas.parts import METER
from calibration.families.gas.strip import gas_stations
from calibration.families.gas.words import Exposure, GasRun
from calibration.kernel.numbers import HUNDRED, parse_decimal, to_float
from calibration.kernel.rounding import show, trimmed
from calibration.runs.causes import cause
from calibration.runs.points import PlannedPoint


@lru_cache(maxsize=256)
def _of_channel(
    facts: InstrumentFacts, channel: int, display: bool, oxygen: Decimal | None
) -> InstrumentFacts:
    return gas_facts(facts, channel, display, oxygen)


def _parameter(ledger: Ledger, name: str) -> Decimal | None:
    """Return a limit of the method, as the job was opened with it; none where it has no such."""
    own = ledger.opened.parameters.get(name)
    value = own.value if own is not None else ledger.method.default(name)
    return parse_decimal(value, name) if value else None


_LEAVE = "Leave if anybody is at risk, tell the operator, and follow the site's alarm procedure. "
AIR_REMEDY = {
    "air_in_doubt": f"{_LEAVE}Then tell them apart: another proven instrument beside it, bottled "
    "air, or a place outdoors. Nothing is set before.",
    "air_poor": f"{_LEAVE}Nothing is set in it; the detector does what it is there for.",
    "air_rich": f"{_LEAVE}Look for oxygen that leaks; nothing is set in it.",
}


def other_in(job: Reads, channel: int, event: Event) -> Decimal | None:
    """Return what another instrument read in the same air, where the entry says so. [% vol]"""
    step = job.ledger.method.step(getattr(event.content, "step", ""))
    if not isinstance(step, Exposure):
        return None
    seen = seen_of(job.ledger, step, event.content).get(channel)
    return seen.other if seen is not None else None


class Gas(RunKind):
    """Gases applied to one channel of a detector."""

    id = "gas"
    order = "gas"
    adds = Answer
    own_columns = {
        "t90_s": Column("Time to 90 %", "s"),
    }
    pictured = False
    applies_point = True

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the detector as one of its channels."""
        oxygen = _parameter(ledger, "oxygen_limit")
        display = METER.id in ledger.without or (isinstance(spec, GasRun) and spec.on_display)
        facts = _of_channel(ledger.facts, spec.channel, display, oxygen)
        share = _parameter(ledger, spec.limit) if isinstance(spec, GasRun) else None
        if share is None:
            return facts
        floor = Decimal(1)
        limit = Tolerance(combine="greatest", percent_of_span=floor, percent_of_reading=share)
        return replace(facts, tolerance=limit)

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return a point for each gas that is applied."""
        return gas_plan(ledger, settings, spec)

    def kit(self, ledger: Ledger, spec: RunSpec) -> Mapping[str, AssetFacts]:
        """Return the references of the run; of cylinders, the one that gave its span gas."""
        own = role_for(ledger, "span", spec.channel)
        return {
            role: chosen.asset
            for role, chosen in ledger.kit.items()
            if contents(chosen.asset) is None or role == own
        }

    def counts(self, ledger: Ledger, spec: RunSpec, taken: Taken) -> Decimal:
        """Return what a gas would have read, had nothing been set in the same visit before.

        A zero that was set in clean air first would else hide that much of the error as found.
        """
        if spec.role != "found" or not exposes(ledger):
            return taken.content.reading
        return unset(ledger, spec.channel, taken.content.reading, taken.event.seq)

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures with causes; one that is slow, or shows wrong, is outside."""
        found = replace(found, causes=gas_causes(job, run, found))
        if self._unproven(job, spec, found):
            return self._in_doubt(job, spec, found)
        if self._slow(job, found, spec) or self._shows_wrong(found) or unsettled(found):
            found = replace(found, mark="outside")
        return found

    def _air(self, job: Reads, spec: RunSpec, figures: RunFigures) -> int | None:
        """Return the point at which oxygen was read in the air around; none where it was not."""
        if channels(job.ledger.facts)[spec.channel].gas != "oxygen":
            return None
        gases = gases_of(job.settings, spec)
        return next((i for i in figures.order if gases[i] == "air"), None)

    def _unproven(self, job: Reads, spec: RunSpec, figures: RunFigures) -> bool:
        """Tell whether it was read in air that may be poor or rich: then nothing is judged."""
        at = self._air(job, spec, figures)
        if at is None or not airproof.asked(job.ledger) or spec.role == "left":
            return False
        taken = figures.taken[at]
        if airproof.good(job.ledger, shows(figures.facts, taken.content)):
            return False
        return bool(airproof.doubt(job.ledger, other_in(job, spec.channel, taken.event)))

    def _in_doubt(self, job: Reads, spec: RunSpec, figures: RunFigures) -> RunFigures:
        """Return what was read in air that is not proven: not judged, with what would tell."""
        at = self._air(job, spec, figures)
        assert at is not None
        taken = figures.taken[at]
        seen, holds = shows(figures.facts, taken.content), airproof.holds(job.ledger)
        other = other_in(job, spec.channel, taken.event)
        known = other if other is not None else airproof.read_beside(job.ledger)
        name = "air_in_doubt"
        if known is not None and not airproof.good(job.ledger, known):
            name = "air_poor" if known < holds else "air_rich"
        size = to_float(HUNDRED * (seen - holds) / channels(job.ledger.facts)[spec.channel].range)
        said = f"It shows {show(seen, 1)} % vol where good air holds {trimmed(holds)}."
        if known is not None:
            said += f" The other instrument shows {show(known, 1)} in the same air."
        found = cause(name, size, said, AIR_REMEDY[name])
        none: tuple[Mark, ...] = tuple("none" for _ in figures.marks)
        return replace(figures, marks=none, mark="none", causes=(found,))

    def _shows_wrong(self, figures: RunFigures) -> bool:
        """Tell whether the display is outside, where an output is held by its end."""
        facts = figures.facts
        for i in figures.order:
            content = figures.taken[i].content
            limit = limit_at(facts.transfer, facts.tolerance, content.applied)
            limit *= abs(facts.transfer.input_span / facts.transfer.output_span)
            if content.digital is not None and abs(content.digital - content.applied) > limit:
                return True
        return False

    def _slow(self, job: Reads, figures: RunFigures, spec: RunSpec) -> bool:
        """Tell whether it took longer to 90 % than it may."""
        if not job.settings.has("t90_limit_percent"):
            return False
        most = channels(job.ledger.facts)[spec.channel].t90_s
        most *= job.settings.share("t90_limit_percent")
        times = (answer(figures.taken[i].content).t90_s for i in figures.order)
        return any(t is not None and t > most for t in times)

    def admit(self, job: Reads, event: Event, spec: RunSpec, point: PlannedPoint) -> None:
        """Refuse a reading with the wrong gas, or one that is no measurement."""
        columns_known(self, event.content)
        gas_reading(job, event, spec)

    def complete(self, job: Reads, step: Step) -> bool:
        """Tell whether the gas of the step is shut."""
        return not left_on(job.ledger, step)

    def title(self, job: Reads, spec: RunSpec) -> str:
        """Return the title, with the gas where a detector measures several."""
        gases = channels(job.ledger.facts)
        if len(gases) < 2 or spec.channel >= len(gases):
            return spec.title
        return f"{spec.title}, {gases[spec.channel].gas}"

    def columns(self, job: Reads, spec: RunSpec, figures: RunFigures) -> tuple[str, ...]:
        """Return display, output, control room and, in span gas, the time to 90 %."""
        facts = figures.facts
        digital = ("digital",) if facts.smart and facts.output_unit == "mA" else ()
        shown = ("indicated",) if facts.indicated else ()
        gases = gases_of(job.settings, spec)
        now = gases[figures.current] if 0 <= figures.current < len(gases) else ""
        return (*digital, "reading", *shown, *(("t90_s",) if now == "span" else ()))

    def label(self, job: Reads, spec: RunSpec, index: int) -> str:
        """Return the gas of a point."""
        return {"air": "Air", "zero": "Zero gas", "nitrogen": "Nitrogen"}.get(
            gases_of(job.settings, spec)[index], "Span gas"
        )

    def in_input(self, facts: InstrumentFacts) -> bool:
        """Tell that its errors are said in the unit of the gas."""
        return True

    def stations(
        self, job: Reads, spec: RunSpec, figures: RunFigures, index: int, figure: str
    ) -> tuple[Station, ...]:
        """Return the strip from the cylinder to the control room."""
        content = figures.taken[index].content
        role = role_for(job.ledger, gases_of(job.settings, spec)[index], spec.channel)
        chosen = job.ledger.kit.get(role)
        return gas_stations(
            figures.facts,
            chosen.asset.asset if chosen is not None and role else "",
            content.applied,
            answer(content).flow,
            channels(job.ledger.facts)[spec.channel].flow_l_per_min,
            content.digital,
            content.reading,
            content.indicated,
            figure,
        )


def of_cylinder(
    facts: InstrumentFacts, asset: AssetFacts, applied: Decimal
) -> tuple[Contribution, ...]:
    """Return what the certificate of a cylinder adds to the uncertainty. [% of span]"""
    inside = contents(asset)
    if inside is None:
        return ()
    share = inside.uncertainty_percent * applied / facts.transfer.input_span
    return (Contribution(name=asset.description, value=float(abs(share)), kind="expanded"),)


GAS = Gas()
