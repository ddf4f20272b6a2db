"""What is on record of an instrument, as operations take it."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from calibration.engine.facts import InstrumentFacts


def on_record(facts: InstrumentFacts, input_type: type) -> dict[str, Any]:
    """Return the settings on record that an operation takes, each with its unit."""
    names = {f.name for f in fields(input_type)}
    return {
        s.name: {"value": s.value, "unit": s.unit} if s.unit else s.value
        for s in facts.settings
        if s.name in names
    }
