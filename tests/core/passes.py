"""Passes that interacting screws take: each to nominal, against the adviser's aim.

``python -m tests.core.passes`` writes the table in docs/methods.
"""

from __future__ import annotations

import statistics
import sys
from collections import Counter
from decimal import Decimal
from pathlib import Path

from calibration.runs.screws import ScrewsIn, Visit, screws
from calibration.simulate.commands import Command
from calibration.simulate.loop import LoopModel, live
from calibration.simulate.noise import uniform

INSTRUMENTS = 200
LIMIT = Decimal("0.2")
DOCS = Path(__file__).resolve().parents[2] / "docs" / "methods" / "passes.md"


class Device:
    """A displacer instrument with interacting screws; errors in percent of span."""

    def __init__(self, seed):
        def drawn(name, low, high):
            return low + (high - low) * uniform(seed, name, 0)

        #: what the low end moves for 1 % at the high end
        share = drawn("a", 0.2, 0.6) * (1 if drawn("side", 0, 1) < 0.5 else -1)
        self.seed = seed
        self.commands, self.t, self.turns = [], 0.0, 0
        self.model = LoopModel(
            lower=1362.0,
            upper=542.9,
            output_zero_percent=drawn("zero", -6, 6),
            output_span_percent=drawn("span", -8, 8),
            zero_moves_span=drawn("b", -0.3, 0.3),
            span_moves_zero=share / (1 - share),
            noise_percent=0.02,
            low_limit=0.0,
            high_limit=24.0,
        )

    def read(self, end):
        weight = self.model.lower if end == "zero" else self.model.upper
        self.commands.append(Command(t=self.t, kind="apply", value=weight))
        self.t += 25
        seen = live(self.model, self.commands, self.t, self.seed)
        ideal = 4 + 16 * (float(seen.applied) - 1362.0) / (542.9 - 1362.0)
        return Decimal(str(round(100 * (float(seen.output) - ideal) / 16, 4)))

    def turn(self, end, aim):
        weight = 0.0 if end == "zero" else 1.0
        to = 4 + 16 * weight + 16 * float(aim) / 100
        self.commands.append(Command(t=self.t, kind="trim", hop="transmitter", end=end, to=to))
        self.t += 5
        self.turns += 1
        return self.read(end)


def to_nominal(seed, most=30):
    """Return the passes it takes to set each screw to nominal in turn."""
    device, passes = Device(seed), 0
    while passes < most:
        turned = False
        for end in ("zero", "span"):
            if abs(device.read(end)) > LIMIT:
                device.turn(end, 0)
                turned = True
        if not turned:
            return passes
        passes += 1
    return passes


def advised(seed, most=30):
    """Return the passes it takes to follow the adviser."""
    device, visits = Device(seed), []
    found = {end: device.read(end) for end in ("zero", "span")}
    passes, last = 0, "span"
    for _ in range(4 * most):
        said = screws(
            ScrewsIn(
                zero_error_percent=found["zero"],
                span_error_percent=found["span"],
                limit_percent=LIMIT,
                visits=tuple(visits),
            )
        )
        if said.next == "done":
            return passes
        before = device.read(said.next)
        after = device.turn(said.next, said.aim_percent) if said.turn else None
        visits.append(Visit(end=said.next, before_percent=before, after_percent=after))
        if said.turn:
            if said.next == "zero" or last == "span":
                passes += 1
            last = said.next
    return most


def table(count=INSTRUMENTS):
    """Return the passes of both ways, one per instrument."""
    seeds = range(1, count + 1)
    return [to_nominal(s) for s in seeds], [advised(s) for s in seeds]


def as_text(nominal, aimed):
    """Return the table of docs/methods as Markdown."""
    lines = [
        "# Screws that move each other: passes until both ends hold",
        "",
        f"{len(nominal)} random instruments: errors up to 14 % of span, a span screw that also "
        "moves the low end by 20 to 60 % of what it does at the high end, a zero screw that moves "
        f"the span by up to 30 %. Close enough: {LIMIT} % of span. A pass turns zero, "
        "then span. Made by `make tables`; a test fails when it is stale.",
        "",
        "| | each to nominal | as advised |",
        "|---|---|---|",
        f"| median passes | {statistics.median(nominal):g} | {statistics.median(aimed):g} |",
        f"| mean passes | {statistics.mean(nominal):.2f} | {statistics.mean(aimed):.2f} |",
        f"| most passes | {max(nominal)} | {max(aimed)} |",
        "",
        "| passes | instruments, each to nominal | instruments, as advised |",
        "|---|---|---|",
    ]
    counted, wise = Counter(nominal), Counter(aimed)
    lines += [f"| {n} | {counted[n]} | {wise[n]} |" for n in sorted(set(counted) | set(wise))]
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    text = as_text(*table())
    DOCS.write_text(text)
    sys.stdout.write(text)
