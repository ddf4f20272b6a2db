"""What stood at an earlier moment of a job: when a test was taken again, when a run was read."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import replace
from typing import Self

from calibration.engine.job import events as ev
from calibration.engine.job.events import Event
from calibration.engine.job.ledger_parts import Attempt, Taken


class Then:
    """The part of a ledger that is asked for what was."""

    readings: dict[str, dict[int, Taken]]
    recorded: dict[tuple[str, str], tuple[str, Event]]
    kit: dict[str, ev.KitChosen]
    without: dict[str, Event]
    attempts: list[Attempt]

    def at_attempt(self, number: int) -> Self:
        """Return what stood when a test was taken again, from 1."""
        attempt = self.attempts[number - 1]
        readings = defaultdict(dict, {**self.readings, **attempt.readings})
        # What was written down stands as it stood then: what is said later changes no reading.
        recorded = {**(attempt.stood or self.recorded), **attempt.recorded}
        return replace(  # type: ignore[type-var]  # a ledger is a dataclass
            self,
            readings=readings,
            recorded=recorded,
            kit=attempt.kit,
            without=dict(attempt.without) if attempt.stood else self.without,
            attempts=[],
        )

    @property
    def used(self) -> list[tuple[str, ev.KitChosen]]:
        """Return every reference that was chosen, with its role; those of repeated tests first."""
        found: dict[tuple[str, str], ev.KitChosen] = {}
        for kit in (*(a.kit for a in self.attempts), self.kit):
            for role, chosen in kit.items():
                found[role, chosen.asset.asset] = chosen
        return [(role, chosen) for (role, _), chosen in found.items()]
