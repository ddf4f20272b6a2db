"""Faults planted in virtual belt scales, and what the judgement calls them.

``python -m tests.core.planted_belts`` writes the table in docs/methods.
"""

from __future__ import annotations

import math
import sys
from functools import lru_cache

from calibration.families.belt.cause_rows import ROWS
from calibration.runs.cause_rows import cured_by_setting
from tests.core.belts import BeltVisit
from tests.core.plant import forked, named
from tests.core.planted import Draw
from tests.core.planting import Seen, Table
from tests.long import several, table

SET = cured_by_setting(ROWS)

SEEDS = several(full=200, small=12)
TABLE = table("belt-faults.md")
ROUTINE, MATERIAL = "belt_routine", "belt_material"
#: Counts of a revolution with the weights, of the empty belt, and of a kilogram a metre.
SPAN, EMPTY, PER_KG_M = 41200.0, 20150.0, 41200.0 * 2.4 / 120


def log(draw, low, high):
    """Return a size of which each decade is as likely as the next."""
    return 10 ** draw(math.log10(low), math.log10(high))


def small(draw):
    """What every good belt has: a little dust, a little tension, revolutions that scatter."""
    return {
        "zero_percent": draw(-0.06, 0.06),
        "span_percent": draw(-0.1, 0.1),
        "build_up_kg_m": draw(0, 0.015),
        "tension_kg": draw(-0.04, 0.04),
        "misaligned_mm": draw(0, 0.3),
        "slip_percent": draw(0, 0.05),
        "spread": draw(1.0, 4.0),
        "lost_percent": draw(0, 0.2),
    }


def tension(draw):
    """2·T·d/L: some kilonewtons and some millimetres push on the bridge like kilograms."""
    mm, kilonewton = draw(1.0, 6.0), draw(1.0, 8.0)
    sign = 1 if draw(0, 1) < 0.5 else -1
    return {
        "tension_kg": sign * 2 * kilonewton * 1000 * mm / 1000 / 2.4 / 9.81,
        "misaligned_mm": mm,
    }


#: name: what is planted, what it must be called, by which method it is seen
FAULTS = {
    "zero of the electronics": (
        lambda d: {"zero_percent": d.signed(0.2, 3)},
        "belt_zero_moved",
        ROUTINE,
    ),
    "build-up": (lambda d: {"build_up_kg_m": log(d, 0.1, 2)}, "belt_build_up", ROUTINE),
    "tension or alignment": (tension, "belt_tension", ROUTINE),
    "speed wheel slips": (lambda d: {"slip_percent": log(d, 0.5, 5)}, "belt_slip", ROUTINE),
    "an idler sticks": (lambda d: {"stuck": log(d, 10, 300)}, "idler_stuck", ROUTINE),
    "span": (lambda d: {"span_percent": d.signed(0.3, 4)}, "belt_span_moved", ROUTINE),
    "weights lean": (lambda d: {"leans_percent": log(d, 0.3, 8)}, "weights_not_seated", ROUTINE),
    "span, by material": (
        lambda d: {"span_percent": d.signed(0.5, 5)},
        "belt_span_moved",
        MATERIAL,
    ),
    "material lost": (lambda d: {"lost_percent": log(d, 0.6, 6)}, "material_lost", MATERIAL),
}


@lru_cache
def begun(method):
    """A visit up to where a fault begins to show."""
    visit = BeltVisit(method)
    visit.until("zero_runs" if method == ROUTINE else "as_found")
    return visit


def planted(method, seed, plant):
    visit, draw = forked(begun(method), seed), Draw(seed)
    now = small(draw)
    more = plant(draw)
    return visit.model(**{**now, **more}), more


def called(task):
    """Return whether a fault is beyond U, and what it is called."""
    name, seed = task
    plant, _, method = FAULTS[name]
    visit, more = planted(method, seed, plant)
    _, first, last = named(visit)
    return Seen(beyond(more, method), first, last)


def beyond(more, method):
    """Tell whether a fault moves zero, span or material by more than is accepted of it."""
    what, size = next(iter(more.items()))
    if method == MATERIAL:
        return abs(size) > 1.0 + 0.3
    zero = {
        "zero_percent": abs(size),
        "build_up_kg_m": 100 * PER_KG_M * size / SPAN,
        "tension_kg": 100 * PER_KG_M * abs(size) / 2.4 / SPAN,
    }
    if what in zero:
        return zero[what] > 0.25 + 0.15
    if what == "stuck":
        # Four revolutions lie 2.06 standard deviations apart in the mean; 10 counts are usual.
        return 2.06 * size > 6 * 10
    # Beside it the span is off by a tenth of a percent, and the wheel slips a little.
    return abs(size) > 0.5 + 0.2


def alarms(seed):
    """What is named at a scale that is fine."""
    visit, _ = planted((ROUTINE, MATERIAL)[seed % 2], seed, lambda d: {})
    return named(visit)[2]


FOUND = Table(
    title="Planted faults of belt scales",
    what="Four revolutions were counted empty and four with weights, or three loads were sent over "
    "belt and truck, with the measurements for which the job asks.",
    faults=FAULTS,
    called=called,
    alarms=alarms,
    sets=SET,
    seeds=SEEDS,
)

if __name__ == "__main__":
    text = FOUND.text()
    TABLE.write_text(text)
    sys.stdout.write(text)
