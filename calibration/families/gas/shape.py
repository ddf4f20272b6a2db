"""How a method is fitted to one detector: its channels, its gases, its lines."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.kit import quantity_of
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Field, Item, KitRole, SetItem, Step
from calibration.engine.method.shape import Shape
from calibration.families.gas import alarms
from calibration.families.gas.conditions import FIRST
from calibration.families.gas.exposure import exposes, taking_part, untested
from calibration.families.gas.facts import channels, detector
from calibration.families.gas.gases import uses, value_of
from calibration.families.gas.parts import AREA, OTHER_INSTRUMENT
from calibration.families.gas.words import Exposure, GasRole, GasRun, GasSet
from calibration.kernel.numbers import HUNDRED, parse_decimal
from calibration.kernel.rounding import show, trimmed


def _spent(job: Reads) -> str:
    """Return which sensors are expected to be past the site's limit, by their history."""
    if not job.settings.has("replace_percent"):
        return ""
    least = job.settings.number("replace_percent")
    said = []
    for c in channels(job.ledger.facts):
        if c.expected_percent is None:
            continue
        now = c.expected_percent * c.base_percent / HUNDRED
        if now < least:
            said.append(
                f"{c.label}: its trend expects {show(now, 0)} % of new, and the site replaces "
                f"below {trimmed(least)} %. Take a new sensor along."
            )
    return " ".join(said)


def _instead(job: Reads, role: KitRole) -> str:
    """Return what is done without a reference; empty where there is no way."""
    if not isinstance(role, GasRole):
        # What is wired to a rig is read by it.
        return "" if job.ledger.facts.rig else role.instead
    if role.instead or role.purpose != "span" or not exposes(job.ledger):
        return role.instead
    several = len(channels(job.ledger.facts)) > 1
    # Where each sensor has steps of its own, those of the first come in any case.
    alone = any(isinstance(s, Exposure) and s.alone for s in job.ledger.method.steps)
    return "That gas is not tested" if several and (role.channel or not alone) else ""


def _in_air(job: Reads, step: Step) -> bool:
    """Tell whether a step reads a channel in the air around: that needs no cylinder."""
    spec = job.ledger.method.run(step.run) if step.run else None
    return isinstance(spec, GasRun) and spec.gases == ("air",)


class DetectorShape(Shape):
    """The steps of a method as they are for one detector."""

    def possible(self, job: Reads, step: Step) -> bool:
        """Tell whether a step may come: channels and gases that are not there fall away."""
        if step.channel and step.channel >= len(channels(job.ledger.facts)):
            return False
        if isinstance(step, Exposure) and not taking_part(job.ledger, step):
            return False
        if step.channel and untested(job.ledger, step.channel) and not _in_air(job, step):
            return False
        if isinstance(step, GasSet) and step.gas == "nitrogen":
            return job.settings.says_yes("nitrogen_zero")
        return super().possible(job, step)

    def roles(self, job: Reads, step: Step) -> tuple[KitRole, ...]:
        """Return the references of a step; those for gases not used fall away."""
        if not step.roles:
            return ()
        wanted = {role for _, role, _, _ in uses(job)}
        if exposes(job.ledger):
            # A cylinder that was chosen for one gas may serve all of them, and is asked for each.
            count = len(channels(job.ledger.facts))
            wanted |= {r.id for r in step.roles if isinstance(r, GasRole) and r.purpose == "span"}
            wanted -= {r.id for r in step.roles if r.channel >= count}
        milliamps = job.ledger.facts.output_unit == "mA"
        found = (
            r
            for r in step.roles
            if (r.id in wanted if isinstance(r, GasRole) else milliamps or r.quantity != "output")
        )
        gases = channels(job.ledger.facts)
        named = len(gases) > 1 and job.ledger.opened.asks
        return tuple(
            replace(
                r,
                # Its runs may be read at the display; the meter is one for its output all the same.
                quantity=quantity_of(job.ledger.facts.output_unit)
                if r.quantity == "output"
                else r.quantity,
                instead=_instead(job, r),
                label=f"Span gas: {gases[r.channel].gas}"
                if named and isinstance(r, GasRole) and r.purpose == "span"
                else r.label,
            )
            for r in found
        )

    def title(self, job: Reads, step: Step) -> str:
        """Return the title of a step, with the gas in place of its number."""
        gases = channels(job.ledger.facts)
        if isinstance(step, Exposure) and (step.gas == "span" or step.alone):
            names = ", ".join(gases[n].gas for n in taking_part(job.ledger, step))
            title = step.title.split(", ")[0]
            return f"{title}: {names}" if names else title
        if not step.channel or step.channel >= len(gases):
            return step.title
        return f"{step.title.rsplit(', ', 1)[0]}, {gases[step.channel].gas}"

    def caution(self, job: Reads, step: Step) -> str:
        """Return the caution; where the gases are chosen, that a new sensor is taken along."""
        spent = _spent(job) if step.kind == "kit" else ""
        return " ".join(filter(None, (spent, step.caution)))

    def line(self, job: Reads, step: Step, item: Item) -> str:
        """Return a line of a checklist; the cover rule follows how the detector is adjusted."""
        if step.id == AREA.id and item is AREA.items[0]:
            if detector(job.ledger.facts).cover_shut:
                return "Cover stays shut: magnet or remote control"
            return "Area declared safe by permit before the cover comes off"
        return item.label

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step; those for channels that are not there fall away."""
        if step.id in (alarms.SEEN, alarms.AGAIN):
            return alarms.fields(job.ledger, step)
        gases = channels(job.ledger.facts)
        found = []
        for field in step.fields:
            if field.channel >= len(gases):
                continue
            if field.id == FIRST:
                field = replace(field, choices=tuple(c.gas for c in gases))
            if field.channel >= 0:
                c = gases[field.channel]
                if field.id.startswith(OTHER_INSTRUMENT) and c.gas == "oxygen":
                    continue
                unit = field.unit or (c.unit if field.kind == "number" else "")
                field = replace(field, label=field.label.format(gas=c.label), unit=unit)
            found.append(field)
        return tuple(found)

    def question(self, job: Reads, step: Step, field: Field, value: str) -> str:
        """Return the question when another instrument finds gas in the air around."""
        if not field.id.startswith(OTHER_INSTRUMENT):
            return ""
        c = channels(job.ledger.facts)[field.channel]
        if abs(parse_decimal(value, field.id)) <= c.range / HUNDRED:
            return ""
        return (
            f"There is {c.gas} in the air: {value} {c.unit}. It is no zero gas here. Read right? "
            "If so, leave, and tell the operator."
        )

    def given(self, job: Reads, step: Step, wanted: set[str]) -> dict[str, str]:
        """Return what an operation takes of a channel: its range, voltage and span gas."""
        gases = channels(job.ledger.facts)
        if step.channel >= len(gases):
            return {}
        c = gases[step.channel]
        known = {
            "range": c.range,
            "full_scale_v": c.full_scale_v,
            "gas_value": value_of(job.ledger, job.settings, "span", step.channel),
        }
        return {k: format(v, "f") for k, v in known.items() if v is not None and k in wanted}

    def off_worked_out(self, job: Reads, field: Field, value: str, worked_out: str) -> str | None:
        """Return the question when a voltage is more than 1 % off the one worked out."""
        was_set = field.id.replace("reference_", "reference_set_")
        if any(name == was_set for _, name in job.ledger.recorded):
            # What was found is on record; what counts is what it was set to.
            return ""
        wanted = parse_decimal(worked_out, field.id)
        off = abs(parse_decimal(value, field.id) - wanted)
        return field.question.format(expected=worked_out) if off * HUNDRED > wanted else ""

    def target(self, job: Reads, step: Step, item: SetItem) -> str | None:
        """Return the value of the span gas of today, for a setting that follows it."""
        if item.to != "gas":
            return None
        value = value_of(job.ledger, job.settings, "span", step.channel)
        return "" if value is None else format(value, "f")
