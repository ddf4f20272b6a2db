"""What runs and steps of a mass flow meter say besides."""

from __future__ import annotations

#: Ids of steps that are looked for by what they are.
BLOCKED, ZEROING = "meter_blocked", "zeroing"
#: The role of the reference quantity in the kit.
REFERENCE = "flow_reference"
#: The parameter with how often it may be zeroed.
ATTEMPTS = "zero_attempts"
