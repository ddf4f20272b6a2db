"""What stood at an earlier moment of a job: when a test was taken again, when a run was read."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import replace
from typing import Self

from calibration.engine import events as ev
from calibration.engine.events import Event
from calibration.engine.ledger_parts import Attempt, Taken


class Then:
    """The part of a ledger that is asked for what was."""

    readings: dict[str, dict[int, Taken]]
    recorded: dict[tuple[str, str], tuple[str, Event]]
    kit: dict[str, ev.KitChosen]
    choices: list[tuple[ev.KitChosen, Event]]
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

    def as_read(self, run: str) -> Self:
        """Return what stood when a run was read last: a reference of later is none of its."""
        taken = self.readings[run].values()
        last = max((t.event.seq for t in taken), default=0)
        later = {c.role for c, e in self.choices if e.seq > last}
        if not last or not later:
            return self
        then = {c.role: c for c, e in self.choices if e.seq <= last}
        kit = {role: then.get(role, chosen) for role, chosen in self.kit.items()}
        return replace(self, kit=kit)  # type: ignore[type-var]

    @property
    def used(self) -> list[tuple[str, ev.KitChosen]]:
        """Return every reference that was chosen, with its role; those of repeated tests first."""
        found: dict[tuple[str, str], ev.KitChosen] = {}
        read = self._read_at()
        for kit in (*(a.kit for a in self.attempts), self._used_before(read), self.kit):
            for role, chosen in kit.items():
                found[role, chosen.asset.asset] = chosen
        return [(role, chosen) for (role, _), chosen in found.items()]

    def _read_at(self) -> list[int]:
        """Return when readings that stand were taken, by the number of the entry."""
        return [t.event.seq for run in self.readings.values() for t in run.values()]

    def _used_before(self, read: list[int]) -> dict[str, ev.KitChosen]:
        """Return references that were read with and then changed for others."""
        found = {}
        for n, (chosen, event) in enumerate(self.choices):
            later = (e.seq for c, e in self.choices[n + 1 :] if c.role == chosen.role)
            end = next(later, None)
            if end is not None and any(event.seq < seq < end for seq in read):
                found[chosen.role] = chosen
        return found
