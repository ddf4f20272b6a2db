"""What the values of a reading are called, in which unit, and which must be there."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.view.asks import Value

#: Values without which there is no reading.
REQUIRED = ("applied", "reading", "after")


def output_label(facts: InstrumentFacts) -> str:
    """Return what the output is called."""
    named = {"mA": "Loop current", "Ω": "Resistance", "mV": "Emf", "V": "Output voltage"}
    return named.get(facts.output_unit, "Display")


def columns_of(
    names: Iterable[str],
    facts: InstrumentFacts,
    own: Mapping[str, tuple[str, str]],
    needed: Sequence[str] = (),
    timed: Sequence[str] = (),
) -> tuple[Value, ...]:
    """Return columns by their names.

    ``own``: label and unit of those that a kind of run adds or names in its own way; ``needed``:
    those of them without which there is no reading;
    ``timed``: those that are a time from tap to tap.
    """
    known = {
        "applied": ("Applied", facts.input_unit),
        "digital": ("Digital, if read", facts.input_unit),
        "reading": (output_label(facts), facts.output_unit),
        "indicated": ("Control room, if read", facts.shown_unit),
        "before": ("Before, if read", ""),
        **own,
    }
    return tuple(
        Value(
            id=name,
            label=known[name][0],
            unit=known[name][1],
            required=name in (*REQUIRED, *needed),
            tap=name in timed,
        )
        for name in names
    )
