"""Faults planted in virtual machines of the plant, counted alike for every family of them.

A family says what is planted, with sizes from physics, and how a visit is read; this counts.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field

from tests.long import spread


@dataclass(frozen=True)
class Seen:
    """One planted fault: whether it counts, and what it is called before and after measuring."""

    beyond: bool
    first: tuple
    last: tuple


@dataclass
class Table:
    """Planted faults of a family: name to what is planted and what it must be called."""

    title: str
    what: str
    faults: dict
    #: (name, seed) → Seen
    called: object
    #: seed → causes of a good one
    alarms: object
    #: causes that setting cures
    sets: tuple
    seeds: int
    counts: dict = field(default_factory=dict)

    def right(self, name):
        """What a fault must be called; several where they cannot be told apart by anything."""
        said = self.faults[name][1]
        return said if isinstance(said, tuple) else (said,)

    def outcome(self, name, seen):
        right = self.right(name)
        if not seen.beyond:
            return "smaller, named" if set(right) & set(seen.last) else "smaller, missed"
        if len(seen.last) == 1 and seen.last[0] in right:
            return "named"
        if set(right) & set(seen.last[:2]):
            return "between two"
        return "wrong" if seen.last else "missed"

    def harmful(self, name, seen):
        """Tell whether the remedy that stands first would hide it or set what is right."""
        right = self.right(name)
        if not seen.last or set(right) & set(seen.last):
            return False
        return (seen.last[0] in self.sets) != (right[0] in self.sets)

    def count(self):
        tasks = [(name, seed) for name in self.faults for seed in range(1, self.seeds + 1)]
        rows = spread(self.called, tasks)
        suspected = spread(self.alarms, range(1, 2 * self.seeds + 1))
        found = {name: Counter() for name in self.faults}
        for (name, _), seen in zip(tasks, rows, strict=True):
            found[name][self.outcome(name, seen)] += 1
            open_ = seen.beyond and len(seen.first) > 1 and set(self.right(name)) & set(seen.first)
            found[name]["open at first"] += bool(open_)
            found[name]["wrong remedy"] += self.harmful(name, seen)
        return found, sum(1 for s in suspected if s), 2 * self.seeds

    def text(self):
        found, wrong, good = self.count()
        self.counts = found
        lines = [
            f"# {self.title}",
            "",
            f"Each fault was planted {self.seeds} times in a virtual instrument, with sizes from "
            "physics and small errors of all other kinds beside it drawn from the seed. "
            f"{self.what} The faults come from our own simulators: real ones will be less kind. "
            "`make tables` computes this anew; a test compares.",
            "",
            "*Beyond U* moves what is read by more than its uncertainty and its limit. *Open at "
            "first* is left open between causes by the run alone, with the measurement that "
            "tells. *Smaller* ones are no fault of the naming and are misses all the same.",
            "",
            "| planted | beyond U | open at first | named first | between two | wrong or missed | "
            "smaller: named, missed |",
            "|---|---|---|---|---|---|---|",
        ]
        for name, n in found.items():
            of = beyond(n)
            lines.append(
                f"| {name} | {of} | {share(n['open at first'], of)} | {share(n['named'], of)} | "
                f"{share(n['between two'], of)} | {share(n['wrong'] + n['missed'], of)} | "
                f"{n['smaller, named']}, {n['smaller, missed']} |"
            )
        every = self.seeds * len(found)
        remedy = sum(n["wrong remedy"] for n in found.values())
        lines += [
            "",
            f"Wrong remedy first: {remedy} of {every} ({share(remedy, every)}).",
            f"False alarms: {wrong} of {good} good ones ({share(wrong, good)}).",
        ]
        return "\n".join(lines) + "\n"

    def promise(self, case):
        """At full count: named or rightly left open in 95 %, wrong remedy and alarms rare."""
        found, wrong, good = self.count()
        for name, n in found.items():
            if beyond(n):
                right = n["named"] + n["between two"]
                case.assertGreaterEqual(right / beyond(n), 0.95, name)
        remedy = sum(n["wrong remedy"] for n in found.values())
        case.assertLess(remedy / (self.seeds * len(found)), 0.01)
        case.assertLess(wrong / good, 0.02)


def beyond(n):
    return sum(n[k] for k in ("named", "between two", "wrong", "missed"))


def share(part, whole):
    return f"{100 * part / whole:.1f} %" if whole else "none"
