"""Faults planted in virtual instruments, and what the diagnosis calls them.

Every seed draws the size of the fault and, besides it, small errors of all other kinds, a tenth
of the tolerance or so, as every instrument has them. ``python -m tests.core.planted`` writes the
table in docs/methods.
"""

from __future__ import annotations

import sys
from collections import Counter
from decimal import Decimal

from calibration.engine.job import events as ev
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.judging.evaluation import Question, evaluate
from calibration.kernel.codec import decode
from calibration.kernel.numbers import exact
from calibration.simulate.block import BlockModel
from calibration.simulate.noise import gaussian, uniform
from tests.core.families import FAMILIES, Visit
from tests.long import several, spread, table

SEEDS = several(full=200, small=12)
TABLE = table("faults.md")


class Draw:
    """Numbers of one seed."""

    def __init__(self, seed):
        self.seed, self.count = seed, 0

    def __call__(self, low, high):
        self.count += 1
        return low + (high - low) * uniform(self.seed, "fault", self.count)

    def signed(self, low, high):
        size = self(low, high)
        return size if self(0, 1) < 0.5 else -size

    def one_of(self, *choices):
        return choices[int(self(0, len(choices)))]


def both(draw):
    return draw.signed(0.7, 2.0), draw.signed(0.7, 2.0)


def sensor_trim(draw):
    zero, span = both(draw)
    return {
        "sensor_zero_percent": zero,
        "sensor_span_percent": span if abs(zero + span) > 0.7 else -span,
    }


def output_trim(draw):
    zero, span = both(draw)
    return {
        "output_zero_percent": zero,
        "output_span_percent": span if abs(zero + span) > 0.7 else -span,
    }


def wrong_range(draw):
    if draw(0, 1) < 0.5:
        return {"set_upper": 4000 * draw.one_of(draw(0.6, 0.88), draw(1.15, 2.0))}
    return {"set_lower": 4000 * draw.one_of(draw(-0.5, -0.12), draw(0.12, 0.4))}


def wrong_type(draw):
    return {"sensor_set": draw.one_of("J", "T", "N", "E", "R", "S")}


#: name: (family, run, faults, facts, what it should be called, in words)
FAULTS = {
    "zero shift": (
        "smart_transmitter",
        lambda d: {"sensor_zero_percent": d.signed(0.65, 2.0)},
        {},
        "zero_shift",
    ),
    "span error": (
        "smart_transmitter",
        lambda d: {"sensor_span_percent": d.signed(0.75, 2.5)},
        {},
        "span_error",
    ),
    "linearity": (
        "smart_transmitter",
        lambda d: {"bow_percent": d.signed(0.75, 2.0)},
        {},
        "nonlinearity",
    ),
    "hysteresis": (
        "smart_transmitter",
        lambda d: {"hysteresis_percent": d(1.2, 2.5)},
        {},
        "hysteresis",
    ),
    "sensor trim needed": ("smart_transmitter", sensor_trim, {}, "sensor_trim"),
    "output trim needed": ("smart_transmitter", output_trim, {}, "output_trim"),
    "receiver scaling": (
        "smart_transmitter",
        lambda d: {"receiver_span_percent": d.signed(0.8, 4.0)},
        {},
        "receiver_scaling",
    ),
    "wrong range": ("smart_transmitter", wrong_range, {}, "wrong_range"),
    "reversed range": (
        "smart_transmitter",
        lambda d: {"set_lower": 4000.0, "set_upper": 0.0},
        {},
        "reversed",
    ),
    "wrong characteristic": (
        "smart_transmitter",
        lambda d: {"characteristic": "square_root"},
        {},
        "wrong_characteristic",
    ),
    "output held at inhibit": (
        "smart_transmitter",
        lambda d: {"fault": "inhibit", "fixed_output": d(1.8, 2.3)},
        {},
        "inhibited",
    ),
    "reading stuck": (
        "smart_transmitter",
        lambda d: {"fault": "stuck", "fixed_output": d(5, 19)},
        {},
        "stuck",
    ),
    "wrong thermocouple type, transmitter": (
        "type_k_transmitter",
        wrong_type,
        {},
        "wrong_sensor_type",
    ),
    "wrong thermocouple type, sensor": (
        "type_k_sensor",
        lambda d: {"actual": d.one_of("J", "T", "N", "E")},
        {},
        "wrong_sensor_type",
    ),
    "swapped polarity, transmitter": (
        "type_k_transmitter",
        lambda d: {"swapped": True},
        {"input_lower": "-150", "input_upper": "150"},
        "swapped_polarity",
    ),
    "swapped polarity, sensor": (
        "type_k_sensor",
        lambda d: {"swapped": True},
        {},
        "swapped_polarity",
    ),
    "two-wire lead, transmitter": (
        "pt100_transmitter",
        lambda d: {"lead_ohm": d(0.5, 4.0)},
        {"wires": 2},
        "lead_resistance",
    ),
    "two-wire lead, sensor": (
        "pt100_sensor",
        lambda d: {"lead_ohm": d(0.7, 4.0)},
        {"wires": 2},
        "lead_resistance",
    ),
    "shunt across the sensor": (
        "pt100_sensor",
        lambda d: {"shunt_ohm": d(3_000, 14_000)},
        {},
        "shunt",
    ),
    "too little immersion": (
        "pt100_sensor",
        lambda d: {"immersion_share": d(0.015, 0.06)},
        {},
        "immersion",
    ),
    "sticky displacer, wet run": (
        "displacer",
        lambda d: {"friction_percent": d(2.4, 5.0)},
        {},
        "hysteresis",
    ),
    "root taken twice, receiver": (
        "flow_root_in_transmitter",
        lambda d: {"receiver_characteristic": "square_root"},
        {},
        "root_twice",
    ),
    "root taken twice, transmitter": (
        "flow_root_in_receiver",
        lambda d: {"characteristic": "square_root"},
        {},
        "root_twice",
    ),
    "root not taken, transmitter": (
        "flow_root_in_transmitter",
        lambda d: {"characteristic": "linear"},
        {},
        "root_missing",
    ),
    "root not taken, receiver": (
        "flow_root_in_receiver",
        lambda d: {"receiver_characteristic": "linear"},
        {},
        "root_missing",
    ),
}
#: A temperature where a virtual range is not that of the family.
MODEL_CHANGES = {"swapped polarity, transmitter": {"lower": -150.0, "upper": 150.0}}


def background(family, seed):
    """Return small errors of all kinds, as every good instrument has them."""
    _, model = FAMILIES[family]

    def small(name, size):
        return size * max(-2.0, min(2.0, gaussian(seed, name, 0)))

    if isinstance(model, BlockModel):
        return {"offset_c": small("offset", 0.04), "gain_percent": small("gain", 0.02)}
    size = 0.1 if family == "displacer" else 0.04
    if family.startswith("flow"):
        size = 0.02
    return {
        "sensor_zero_percent": small("zero", size),
        "sensor_span_percent": small("span", size),
        "output_zero_percent": small("out zero", size),
        "output_span_percent": small("out span", size),
        "bow_percent": small("bow", size),
        "hysteresis_percent": abs(small("hysteresis", 0.06)),
    }


def read(visit, run_id):
    """Take a whole run past the steps before it, and evaluate it as a job does."""
    with exact():
        job = Job(build(visit.method, visit.events), visit.now)
        state = visit.state()
        run = next(r for r in state.runs if r.id == run_id)
        contents = tuple(
            decode(ev.ReadingTaken, visit.person.reading(run, point)) for point in run.points
        )
        cut_off = job.settings.number("cut_off") if job.settings.has("cut_off") else Decimal(0)
        return evaluate(
            Question(
                facts=job.facts_of(run_id),
                kit=(),
                rule=job.settings.rule,
                adjust_share=job.settings.share("adjust_share"),
                cut_off=cut_off,
                points=job.plan_of(run_id),
                contents=contents,
            )
        )


def called(answer, wanted):
    """Return what the diagnosis calls it: the trim where one is asked about, else the cause."""
    if wanted in ("sensor_trim", "output_trim"):
        return answer.located.remedy
    if wanted == "receiver_scaling":
        return answer.located.remedy
    return answer.causes[0].cause if answer.causes else "nothing"


def plant(name, seed):
    """Return what one planted fault is called."""
    family, faults, facts, wanted = FAULTS[name]
    given = {**background(family, seed), **MODEL_CHANGES.get(name, {}), **faults(Draw(seed))}
    visit = Visit(family, seed=seed, facts=facts, **given)
    return called(read(visit, "wet_run" if "wet" in name else "as_found"), wanted)


def good(family, seed):
    """Return what a good instrument is accused of; empty when of nothing."""
    answer = read(Visit(family, seed=seed, **background(family, seed)), "as_found")
    if "outside" in answer.marks:
        return "outside"
    return answer.causes[0].cause if answer.causes else ""


def count(seeds=SEEDS):
    """Return rows of named right, and of false alarms, over the seeds."""
    numbers = range(1, seeds + 1)
    faults = {f: Counter(spread(plant, [f] * seeds, numbers)) for f in FAULTS}
    alarms = {f: sum(map(bool, spread(good, [f] * seeds, numbers))) for f in FAMILIES}
    return faults, alarms


def as_text(faults, alarms, seeds=SEEDS):
    """Return the table of docs/methods as Markdown."""
    lines = [
        "# Faults planted in simulators, and what the diagnosis calls them",
        "",
        f"{seeds} random seeds a fault: its size is drawn, and small errors of all other kinds lie "
        "beside it. Made by `make tables`; a test fails when it is stale.",
        "",
        "| fault planted | family | called right | what else it was called |",
        "|---|---|---|---|",
    ]
    for name, (family, _, _, wanted) in FAULTS.items():
        found = faults[name]
        rest = ", ".join(f"{k} {n}" for k, n in found.most_common() if k != wanted)
        share = 100 * found[wanted] / seeds
        lines.append(f"| {name} | {family.replace('_', ' ')} | {share:.1f} % | {rest} |")
    lines += [
        "",
        "## False alarms on good instruments",
        "",
        "| family | instruments | accused or outside |",
        "|---|---|---|",
    ]
    lines += [f"| {f.replace('_', ' ')} | {seeds} | {n} |" for f, n in alarms.items()]
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    text = as_text(*count())
    TABLE.write_text(text)
    sys.stdout.write(text)
