"""Words for the history about events that families add."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from calibration.engine.job.ledger import Ledger

#: by type of content; families join theirs
WORDS: dict[type, Callable[[Ledger, Any], str]] = {}
#: what their entries are counted as among those of a person: one, and several
COUNTED: dict[str, tuple[str, str]] = {}
#: decisions, by what was chosen; families join theirs
CHOICE_WORDS = {
    "leave": "leave it as it is",
    "adjust": "adjust it",
    "stop": "stop and report it",
    "accept": "the difference is accepted",
    "later": "read right; it stays until the as-found run is taken",
    "not_here": "it cannot be measured here",
    "replace": "replace the sensor, then set it",
    "repair": "put right in the visit",
    "without": "the job goes on without it",
    "repeat": "the test is put right and repeated",
    "repeat_other": "the test is repeated with another reference",
}
