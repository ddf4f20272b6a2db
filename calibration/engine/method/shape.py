"""How a family fits a method to one instrument: which steps, references and fields it has.

The class itself is an instrument whose method is taken as it is written.
"""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.job.recorded import same_value
from calibration.engine.method.method import Field, Item, KitRole, SetItem, Step
from calibration.engine.view.blocks import Row


class Shape:
    """The steps of a method as they are for one instrument."""

    def possible(self, job: Reads, step: Step) -> bool:
        """Tell whether a step may come in this job, whatever is found."""
        return step.only_if is None or not step.only_if.by_plan or step.only_if.test(job, step)

    def roles(self, job: Reads, step: Step) -> tuple[KitRole, ...]:
        """Return the references of a step."""
        return step.roles

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step."""
        return step.fields

    def title(self, job: Reads, step: Step) -> str:
        """Return the title of a step."""
        return step.title

    def caution(self, job: Reads, step: Step) -> str:
        """Return what to be careful about in a step; empty when nothing."""
        return step.caution

    def line(self, job: Reads, step: Step, item: Item) -> str:
        """Return a line of a checklist."""
        return item.label

    def listed(self, job: Reads, step: Step) -> tuple[Row, ...]:
        """Return lines that a step lists besides what it works out."""
        return ()

    def refuse(self, job: Reads, step: Step, field: Field, value: str) -> None:
        """Refuse a value that cannot be; nothing is refused where it may be."""

    def agrees(self, job: Reads, step: Step, field: Field, value: str, expected: str) -> bool:
        """Tell whether a value says what the record says."""
        return same_value(value, expected)

    def question(self, job: Reads, step: Step, field: Field, value: str) -> str:
        """Return what to ask about a recorded value; empty when nothing."""
        return ""

    def given(self, job: Reads, step: Step, wanted: set[str]) -> dict[str, str]:
        """Return what the operation of a step takes besides settings and what is recorded."""
        return {}

    def off_worked_out(self, job: Reads, field: Field, value: str, worked_out: str) -> str | None:
        """Return the question when a value is far from the one worked out; none for the rule."""
        return None

    def to_device(self, job: Reads, item: SetItem, value: str) -> str:
        """Return a value that a device is set to, in the unit in which the device says it."""
        return value

    def unit(self, job: Reads, of: Field | SetItem) -> str:
        """Return the unit in which a value was read, or in which a device says a setting."""
        return job.ledger.facts.input_unit if of.unit == "input" else of.unit

    def took(self, job: Reads, item: SetItem, value: str, read_back: str) -> bool:
        """Tell whether a device reads back what was written to it."""
        return same_value(read_back, value)

    def target(self, job: Reads, step: Step, item: SetItem) -> str | None:
        """Return what a setting is set to, by a word of the family; none for no such word."""
        return None
