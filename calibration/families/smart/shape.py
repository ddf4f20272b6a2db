"""How a method is fitted to one smart transmitter: its unit, and a range that is ordered."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.method import Field, SetItem, Step
from calibration.engine.reads import Reads
from calibration.engine.recorded import same_value
from calibration.engine.shape import Shape
from calibration.families.smart.rerange import NEW, ORDER, target
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import parse_decimal
from calibration.kernel.units import KPA_PER, convert

#: The setting by which a device says in which unit its range is.
UNIT = "unit"
ENDS = ("lower", "upper")


def device_unit(job: Reads, step: Step) -> str:
    """Return the unit in which the device says its range: as read, else that of the record."""
    entry = job.ledger.recorded.get((step.id, UNIT))
    return entry[0].strip() if entry is not None else job.ledger.facts.input_unit


class SmartShape(Shape):
    """The steps of a method as they are for one smart transmitter."""

    def refuse(self, job: Reads, step: Step, field: Field, value: str) -> None:
        """Refuse a unit that is none, and a range without a span.

        Raises
        ------
        InputError
            ``unit.unknown``, ``range.empty``.
        """
        known = dict.fromkeys((job.ledger.facts.input_unit, *KPA_PER))
        if field.id == UNIT and value.strip() not in known:
            raise InputError(
                "unit.unknown",
                "data.value",
                f"'{value[:40]}' is no unit that is known here.",
                "Use one of: " + ", ".join(known) + ".",
            )
        other = {"new_lower": "new_upper", "new_upper": "new_lower"}.get(field.id)
        said = job.ledger.recorded.get((ORDER, other)) if other else None
        if said is not None and same_value(said[0], value):
            raise InputError(
                "range.empty",
                "data.value",
                "Lower and upper range value are the same: there is no range.",
                "Type the range that is ordered.",
            )

    def agrees(self, job: Reads, step: Step, field: Field, value: str, expected: str) -> bool:
        """Tell whether an end of the range is the one on record, in whichever unit it is read.

        It agrees within half of the last digit that the device shows.
        """
        unit, own = device_unit(job, step), job.ledger.facts.input_unit
        if field.id not in ENDS or unit == own or own not in KPA_PER:
            return same_value(value, expected)
        shown = parse_decimal(value, "data.value")
        half = Decimal(5).scaleb(int(shown.as_tuple().exponent) - 1)
        away = abs(convert(shown, unit, own) - parse_decimal(expected, "expected"))
        return away <= convert(half, unit, own)

    def target(self, job: Reads, step: Step, item: SetItem) -> str | None:
        """Return an end of the range that is ordered."""
        return target(job.ledger, item.id) if item.to == NEW else None
