"""What is particular to the job of a gas detector: its channels, its gases, its lines."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import replace
from functools import cached_property
from typing import TYPE_CHECKING, cast

from calibration.decisions.tolerance import limit_at
from calibration.engine.evaluation import RunFigures
from calibration.engine.events import InstrumentFacts
from calibration.engine.ledger import Ledger
from calibration.engine.method import Field, Item, KitRole, RunSpec, Step
from calibration.engine.parameters import Settings
from calibration.families.gas.gases import SUFFIX, clear_below, shows, uses, value_of
from calibration.kernel.numbers import HUNDRED, parse_decimal

if TYPE_CHECKING:
    from calibration.engine.job import Job


class Detecting:
    """The part of a job that knows gases. Mixed into ``Job``, which has all the rest."""

    ledger: Ledger
    settings: Settings

    @abstractmethod
    def figures(self, run: str) -> RunFigures:
        """Return an evaluated run by its name."""

    @abstractmethod
    def facts_of(self, run: str) -> InstrumentFacts:
        """Return the instrument as a run sees it."""

    @abstractmethod
    def choice(self, step: str) -> str:
        """Return what was decided at a step; empty when nothing."""

    def _shows_wrong(self, figures: RunFigures) -> bool:
        """Tell whether the display of a detector is outside, where an output is held by its end."""
        facts = figures.facts
        for i in figures.order:
            content = figures.taken[i].content
            limit = limit_at(facts.transfer, facts.tolerance, content.applied)
            limit *= abs(facts.transfer.input_span / facts.transfer.output_span)
            if content.digital is not None and abs(content.digital - content.applied) > limit:
                return True
        return False

    def _slow(self, figures: RunFigures, spec: RunSpec) -> bool:
        """Tell whether a detector took longer to 90 % than it may."""
        if not self.settings.has("t90_limit_percent"):
            return False
        most = self.ledger.facts.channels[spec.channel].t90_s
        most *= self.settings.share("t90_limit_percent")
        times = (figures.taken[i].content.t90_s for i in figures.order)
        return any(t is not None and t > most for t in times)

    def gas_run(self, step: Step) -> RunSpec | None:
        """Return the run with gas that a step takes; none for any other step."""
        if step.kind != "capture":
            return None
        spec = self.ledger.method.run(step.run)
        return spec if spec.input == "gas" else None

    @cached_property
    def _gas_roles(self) -> set[str]:
        """Return the roles from which the job may take gas."""
        return {role for _, role, _, _ in uses(cast("Job", self))}

    def roles(self, step: Step) -> tuple[KitRole, ...]:
        """Return the references of a step; those for channels or gases not used fall away."""
        if not step.roles:
            return ()
        wanted = self._gas_roles
        milliamps = not self.ledger.facts.channels or self.ledger.facts.output_unit == "mA"
        return tuple(
            r
            for r in step.roles
            if (r.id in wanted if r.quantity == "gas" else milliamps or r.quantity != "output")
        )

    def title_of(self, step: Step) -> str:
        """Return the title of a step, with the gas in place of its number."""
        channels = self.ledger.facts.channels
        if not step.channel or step.channel >= len(channels):
            return step.title
        return f"{step.title.rsplit(', ', 1)[0]}, {channels[step.channel].gas}"

    def item_label(self, step: Step, item: Item) -> str:
        """Return a line of a checklist; the cover rule follows how the detector is adjusted."""
        if step.id == "area" and item.id == "cover" and self.ledger.facts.channels:
            if self.ledger.facts.cover_shut:
                return "Cover stays shut: magnet or remote control"
            return "Area declared safe by permit before the cover comes off"
        return item.label

    def fields(self, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step; those for channels that a detector has not fall away."""
        channels = self.ledger.facts.channels
        if not channels:
            return step.fields
        found = []
        for field in step.fields:
            if field.channel >= len(channels):
                continue
            if field.channel >= 0:
                c = channels[field.channel]
                if field.id.startswith("air_") and c.gas == "oxygen":
                    continue
                field = replace(field, label=field.label.format(gas=c.label), unit=c.unit)
            found.append(field)
        return tuple(found)

    def possible(self, step: Step) -> bool:
        """Tell whether a step may come in this job, whatever is found."""
        if step.channel and step.channel >= len(self.ledger.facts.channels):
            return False
        if step.kind == "gas_set" and step.gas == "nitrogen":
            return self.settings.says_yes("nitrogen_zero")
        asked = step.only_if in ("nitrogen_zero", "air_zero")
        return self.settings.says_yes(step.only_if) if asked else True

    def off(self, channel: int) -> bool:
        """Tell whether a channel of a detector is to be adjusted, by what was found."""
        suffix = SUFFIX[channel]
        names = [
            r.id
            for r in self.ledger.method.runs
            if r.channel == channel and r.id.startswith(("as_found", "air_found"))
        ]
        if self.ledger.readings[f"base{suffix}"]:
            names = [f"base{suffix}"]
        marks = {self.figures(name).mark for name in names}
        always = self.settings.has("school") and self.settings.always_adjust
        replaced = self.choice("judge") == "replace"
        return always or replaced or bool(marks & {"near", "outside"}) or self.air_off(channel)

    def air_off(self, channel: int) -> bool:
        """Tell whether clean air reads so that the bypass could not come off afterwards."""
        name = next(
            (
                r.id
                for r in self.ledger.method.runs
                if r.channel == channel and r.gases == ("air",) and not r.id.startswith("air_left")
            ),
            "",
        )
        taken = self.ledger.readings[name].get(0) if name else None
        if taken is None:
            return False
        facts = self.facts_of(name)
        away = abs(shows(facts, taken.content) - self.ledger.facts.channels[channel].rest)
        return away > clear_below(cast("Job", self), channel)

    def _gas_left_on(self, step: Step) -> bool:
        """Tell whether gas that was opened in a step still flows."""
        flow = self.ledger.flowing
        return flow is not None and flow.content.step == step.id

    def _around(self, field: Field, value: str) -> str:
        """Return the question when another instrument finds gas in the air around."""
        c = self.ledger.facts.channels[field.channel]
        if abs(parse_decimal(value, field.id)) <= c.range / HUNDRED:
            return ""
        return (
            f"There is {c.gas} in the air: {value} {c.unit}. It is no zero gas here. Read right? "
            "If so, leave, and tell the operator."
        )

    def _of_channel(self, step: Step, wanted: set[str]) -> dict[str, str]:
        """Return what an operation takes of a channel: its range, voltage and span gas."""
        if step.channel >= len(self.ledger.facts.channels):
            return {}
        c = self.ledger.facts.channels[step.channel]
        known = {
            "range": c.range,
            "full_scale_v": c.full_scale_v,
            "gas_value": value_of(self.ledger, self.settings, "span", step.channel),
        }
        return {k: format(v, "f") for k, v in known.items() if v is not None and k in wanted}
