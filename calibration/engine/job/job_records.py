"""What a job says of its records and settings: what is expected, what differs, what is written."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterator
from decimal import Decimal
from functools import partial

from calibration.engine.job.ledger import NOT_HERE, WITHOUT, Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.job.recorded import same_value, setting_on_record, worked_out
from calibration.engine.method.family import Family
from calibration.engine.method.method import Field, SetItem, Step
from calibration.kernel.numbers import HUNDRED, parse_decimal

#: A range found may differ this much from the one computed. [% of span]
COMPUTED_WITHIN_PERCENT = Decimal("0.5")


class Recording:
    """The records and settings of a job."""

    ledger: Ledger
    settings: Settings
    family: Family

    @property
    @abstractmethod
    def _reads(self) -> Reads:
        """Return the whole job, as families read it."""

    @abstractmethod
    def choice(self, step: str) -> str:
        """Return what was decided at a step; empty when nothing."""

    def _restored(self) -> Iterator[tuple[Step, SetItem]]:
        """Yield the settings that are brought back to what the record says."""
        for step in self.ledger.method.steps:
            for item in step.sets:
                if item.to == "record":
                    yield step, item

    @property
    def untested(self) -> tuple[str, ...]:
        """Return what was not tested, as what it takes was not here."""
        return self.family.untested(self._reads)

    @property
    def differs(self) -> bool:
        """Tell whether a setting found differs from the record and is to be brought back."""
        return any(self.to_write(step, item) is not None for step, item in self._restored())

    @property
    def differences(self) -> str:
        """Return the settings that differ from the record, in words."""
        return " and ".join(
            f"{item.label.lower()} is {self.found_setting(item.id)}, on record "
            f"{self.on_record(item.id)}"
            for step, item in self._restored()
            if self.to_write(step, item) is not None
        )

    @property
    def accepted_wrong(self) -> str:
        """Return which setting that others count by was accepted though it differs; else empty."""
        for step in self.ledger.method.steps:
            if step.kind != "record" or self.choice(step.id) != "accept":
                continue
            for field in step.fields:
                if field.governs and self.mismatch(step, field):
                    return field.label
        return ""

    @property
    def put_right(self) -> bool:
        """Tell whether settings were brought back, so that the run is due before any trim."""
        steps = {step.id for step, _ in self._restored()}
        back = any(step in steps for step, _ in self.ledger.written)
        again = self.ledger.method.found.again
        return back and not self.ledger.readings[again] and not self.ledger.set_times

    def not_here(self, step: Step) -> bool:
        """Tell whether it was said that a step is not done here; what is never put on stays so."""
        never = step.kind == "put_on" and self.choice(step.id) == NOT_HERE
        return never or self.ledger.not_here(step.id)

    def waits_for(self, step: Step, field: Field) -> bool:
        """Tell whether a step is open as long as a value is not told, nor why it is not there."""
        key = (step.id, field.id)
        return field.required and key not in self.ledger.recorded and key not in self.ledger.untold

    def gone_through(self, step: Step) -> bool:
        """Tell whether every line is so, or the job goes on without it."""
        open_ones = [i for i in step.items if (step.id, i.id) not in self.ledger.confirmed]
        without = self.choice(step.id) == WITHOUT
        return not open_ones or (
            without and all((step.id, i.id) in self.ledger.failed for i in open_ones)
        )

    def all_told(self, step: Step) -> bool:
        """Tell whether every value is told, or why it is not, and no question is open."""
        fields = self.family.shape.fields(self._reads, step)
        for field in fields:
            if self.waits_for(step, field):
                return False
        accepted = step.id in self.ledger.decided
        return accepted or not any(
            self.mismatch(step, field) for field in self.family.shape.fields(self._reads, step)
        )

    def may_wait(self, step: Step) -> bool:
        """Tell whether a difference may stay until the as-found run is taken."""
        names = {item.id for _, item in self._restored()}
        return any(
            f.id in names
            and (step.id, f.id) in self.ledger.recorded
            and self.expected(f)
            and not self.agrees(step, f, self.ledger.recorded[step.id, f.id][0])
            for f in step.fields
        )

    def found_setting(self, name: str) -> str:
        """Return a setting as it was found in the device; empty when it was not read."""
        for step in self.ledger.method.steps:
            if step.kind == "record" and (step.id, name) in self.ledger.recorded:
                return self.ledger.recorded[step.id, name][0]
        return ""

    def to_write(self, step: Step, item: SetItem) -> str | None:
        """Return what a set step writes for one setting; none when there is nothing to write.

        A difference from the record that was accepted is not written back.
        """
        found, target = self.found_setting(item.id), item.to
        if item.to == "record":
            target = self.on_record(item.id)
            accepted = any(
                self.choice(s.id) == "accept"
                for s in self.ledger.method.steps
                if s.kind == "record" and any(f.id == item.id for f in s.fields)
            )
            if not target or not found or accepted:
                return None
        elif item.to == "found":
            changed = any(name == item.id for s, name in self.ledger.written if s != step.id)
            return found if found and changed else None
        elif (own := self.family.shape.target(self._reads, step, item)) is not None:
            target = own
            if not target:
                return None
        if not found:
            return None
        if self._found_so(item, found, target):
            return None
        return self.family.shape.to_device(self._reads, item, target)

    def _found_so(self, item: SetItem, found: str, target: str) -> bool:
        """Tell whether a setting was found as it is to be."""
        for step in self.ledger.method.steps:
            for field in step.fields if item.to == "record" else ():
                if field.id == item.id and (step.id, item.id) in self.ledger.recorded:
                    return self.family.shape.agrees(self._reads, step, field, found, target)
        return same_value(found, target)

    def written(self, step: Step, item: SetItem) -> bool:
        """Tell whether a setting was written and read back as written."""
        entry = self.ledger.written.get((step.id, item.id))
        wanted = self.to_write(step, item)
        if wanted is None:
            return True
        return (
            entry is not None
            and same_value(entry[0].value, wanted)
            and self.took(item, entry[0].value, entry[0].read_back)
        )

    def took(self, item: SetItem, value: str, read_back: str) -> bool:
        """Tell whether the device reads back what was written to it."""
        return self.family.shape.took(self._reads, item, value, read_back)

    def on_record(self, name: str) -> str:
        """Return a setting by the name under which it is found in the device."""
        return setting_on_record(self.ledger.facts, name)

    def expected(self, field: Field) -> str:
        """Return what the instrument's record says for a field; empty when nothing."""
        if not field.must_match:
            return ""
        found = getattr(self.ledger.facts, field.must_match, None)
        return self.on_record(field.must_match) if found is None else str(found)

    def agrees(self, step: Step, field: Field, value: str) -> bool:
        """Tell whether a value says what the record says of a field."""
        return self.family.shape.agrees(self._reads, step, field, value, self.expected(field))

    def mismatch(self, step: Step, field: Field) -> str:
        """Return the question to ask when a recorded value differs from what it should say."""
        if step.works_out.must_hold and field is step.fields[-1]:
            found = self.computed(step)
            for name, question in step.works_out.must_hold:
                if found.get(name) == "no":
                    return question.format(**found)
        entry = self.ledger.recorded.get((step.id, field.id))
        if entry is None:
            return ""
        expected = self.expected(field)
        if expected and not self.agrees(step, field, entry[0]):
            return field.question.format(expected=expected)
        if field.most:
            most = self.settings.number(field.most)
            if parse_decimal(entry[0], field.id) > most:
                return field.question.format(expected=f"{most} {field.unit}".strip())
        asked = self.family.shape.question(self._reads, step, field, entry[0])
        return asked or self._off_worked_out(step, field, entry[0])

    def _off_worked_out(self, step: Step, field: Field, value: str) -> str:
        """Return the question when a value is far from the one that was worked out."""
        result = dict(step.works_out.computed).get(field.id)
        worked_out = self.computed(step).get(result, "") if result is not None else ""
        if not worked_out:
            return ""
        asked = self.family.shape.off_worked_out(self._reads, field, value, worked_out)
        if asked is not None:
            return asked
        span = abs(self.ledger.facts.transfer.input_span)
        away = abs(parse_decimal(value, field.id) - parse_decimal(worked_out, field.id))
        if HUNDRED * away <= span * COMPUTED_WITHIN_PERCENT:
            return ""
        return f"From the vessel and its liquid it comes to {worked_out}. Is the range right?"

    def computed(self, step: Step) -> dict[str, str]:
        """Return the results of a step's operation as text; empty while an input is missing."""
        return worked_out(self.ledger, step, partial(self.family.shape.given, self._reads, step))
