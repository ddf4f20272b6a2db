"""What is on record or written down, as operations take it and as it is compared."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields
from decimal import Decimal
from typing import Any

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.method.method import Step
from calibration.kernel.codec import decode, is_required
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import parse_decimal
from calibration.kernel.registry import OPERATIONS
from calibration.kernel.rounding import fixed


def on_record(facts: InstrumentFacts, input_type: type) -> dict[str, Any]:
    """Return the settings on record that an operation takes, each with its unit."""
    names = {f.name for f in fields(input_type)}
    return {
        s.name: {"value": s.value, "unit": s.unit} if s.unit else s.value
        for s in facts.settings
        if s.name in names
    }


def worked_out(
    ledger: Ledger, step: Step, given_by: Callable[[set[str]], dict[str, str]]
) -> dict[str, str]:
    """Return the results of a step's operation as text; empty while an input is missing.

    It works on the settings on record, on what the family gives and on what was recorded in the
    step itself.
    """
    operation = OPERATIONS[step.works_out.operation]
    inputs = {f.name: f for f in fields(operation.input_type)}
    given = on_record(ledger.facts, operation.input_type)
    given.update(given_by(set(inputs)))
    for name in inputs:
        if (step.id, name) in ledger.recorded:
            given[name] = ledger.recorded[step.id, name][0]
    if any(is_required(f) and f.name not in given for f in inputs.values()):
        return {}
    if operation.one_of and not any(name in given for name in operation.one_of):
        return {}
    result = operation.function(decode(operation.input_type, given, "settings"))
    return {
        f.name: _as_text(getattr(result, f.name), f.metadata.get("decimals"))
        for f in fields(result)
    }


def setting_on_record(facts: InstrumentFacts, name: str) -> str:
    """Return what the record says of a setting, by the name under which it is found."""
    known = {
        "lower": format(facts.input_lower, "f"),
        "upper": format(facts.input_upper, "f"),
        "characteristic": facts.characteristic.replace("_", " "),
        "sensor": facts.sensor,
        "unit": facts.input_unit,
    }
    return known.get(name) or facts.setting(name)


def same_value(one: str, other: str) -> bool:
    """Tell whether two entries say the same: as numbers, or as letters and digits."""
    try:
        return parse_decimal(one, "one") == parse_decimal(other, "other")
    except InputError:
        return _plain(one) == _plain(other)


def _plain(text: str) -> str:
    return "".join(c for c in text.upper() if c.isalnum())


def _as_text(value: object, decimals: int | None) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float | Decimal):
        return format(fixed(value, 3 if decimals is None else decimals), "f")
    return value if isinstance(value, str) else ""
