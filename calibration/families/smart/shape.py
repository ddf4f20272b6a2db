"""How a method is fitted to one smart transmitter: its unit, and a range that is ordered."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.job.reads import Reads
from calibration.engine.job.recorded import same_value
from calibration.engine.method.method import Field, SetItem, Step
from calibration.engine.method.shape import Shape
from calibration.families.smart.rerange import NEW, ORDER, target
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import parse_decimal
from calibration.kernel.rounding import fixed
from calibration.kernel.units import KPA_PER, convert

#: The setting by which a device says in which unit its range is.
UNIT = "unit"
ENDS = ("lower", "upper")


def device_unit(job: Reads) -> str:
    """Return the unit in which the device says its range: as read, else that of the record."""
    own = job.ledger.facts.input_unit
    said = (v for (_, name), (v, _) in job.ledger.recorded.items() if name == UNIT)
    return next(said, own).strip() if own in KPA_PER else own


def half_digit(shown: str) -> Decimal:
    """Return half of the last digit of a value as it is shown."""
    number = parse_decimal(shown, "data.value")
    return Decimal(5).scaleb(int(number.as_tuple().exponent) - 1)


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
        unit, own = device_unit(job), job.ledger.facts.input_unit
        if field.id not in ENDS or unit == own:
            return same_value(value, expected)
        shown = convert(parse_decimal(value, "data.value"), unit, own)
        away = abs(shown - parse_decimal(expected, "expected"))
        return away <= convert(half_digit(value), unit, own)

    def to_device(self, job: Reads, item: SetItem, value: str) -> str:
        """Return an end of the range in the unit of the device, to 0.01 of it."""
        unit, own = device_unit(job), job.ledger.facts.input_unit
        if item.id not in ENDS or unit == own:
            return value
        return format(fixed(convert(parse_decimal(value, item.id), own, unit), 2).normalize(), "f")

    def unit(self, job: Reads, of: Field | SetItem) -> str:
        """Return the unit of a value; an end of the range is in the one that the device shows."""
        return device_unit(job) if of.id in ENDS else super().unit(job, of)

    def took(self, job: Reads, item: SetItem, value: str, read_back: str) -> bool:
        """Tell whether the device took it: within half of the last digit that it shows."""
        if item.id not in ENDS or device_unit(job) == job.ledger.facts.input_unit:
            return same_value(read_back, value)
        try:
            away = abs(parse_decimal(read_back, "read_back") - parse_decimal(value, "value"))
        except InputError:
            return False
        return away <= half_digit(read_back)

    def target(self, job: Reads, step: Step, item: SetItem) -> str | None:
        """Return an end of the range that is ordered."""
        return target(job.ledger, item.id) if item.to == NEW else None
