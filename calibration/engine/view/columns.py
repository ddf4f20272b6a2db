"""What the values of a reading are called, in which unit, and which must be there."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.view.asks import Value


@dataclass(frozen=True)
class Column:
    """A value of a reading that a kind of run adds, or names in its own way."""

    label: str
    unit: str
    #: without it there is no reading
    needed: bool = False
    #: it is a time from tap to tap
    tap: bool = False


#: Values without which there is no reading.
REQUIRED = ("applied", "reading", "after")


def output_label(facts: InstrumentFacts) -> str:
    """Return what the output is called."""
    named = {"mA": "Loop current", "Ω": "Resistance", "mV": "Emf", "V": "Output voltage"}
    return named.get(facts.output_unit, "Display")


def columns_of(
    names: Iterable[str],
    facts: InstrumentFacts,
    own: Mapping[str, Column],
) -> tuple[Value, ...]:
    """Return columns by their names; ``own`` are those of the kind of run."""
    known = {
        "applied": Column("Applied", facts.input_unit),
        "digital": Column("Digital, if read", facts.input_unit),
        "reading": Column(output_label(facts), facts.output_unit),
        "indicated": Column("Control room, if read", facts.shown_unit),
        "before": Column("Before, if read", ""),
        **own,
    }
    return tuple(
        Value(
            id=name,
            label=known[name].label,
            unit=known[name].unit,
            required=name in REQUIRED or known[name].needed,
            tap=known[name].tap,
        )
        for name in names
    )
