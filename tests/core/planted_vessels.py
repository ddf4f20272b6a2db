"""Faults planted in virtual vessels on load cells, and what the judgement calls them.

``python -m tests.core.planted_vessels`` writes the table in docs/methods.
"""

from __future__ import annotations

import math
import sys
from functools import lru_cache

from calibration.families.loadcells.cause_rows import ROWS
from calibration.runs.cause_rows import cured_by_setting
from tests.core.plant import forked, named
from tests.core.planted import Draw
from tests.core.planting import Seen, Table
from tests.core.vessels import VesselVisit
from tests.long import several, table

SET = cured_by_setting(ROWS)

SEEDS = several(full=200, small=12)
TABLE = table("loadcell-faults.md")
LOAD = 1000.0


def log(draw, low, high):
    """Return a size of which each decade is as likely as the next."""
    return 10 ** draw(math.log10(low), math.log10(high))


def small(draw):
    """What every good vessel has: a zero of a step or so, corners and pipes that matter little."""
    return {
        "zero_kg": draw(-0.1, 0.1),
        "span_percent": draw(-0.02, 0.02),
        "cell_percent": draw(-0.004, 0.004),
        "pipe_percent": draw(0, 0.02),
        "corner_percent": draw(-0.05, 0.05),
        "creep_percent": draw(0, 0.01),
        "noise_kg": draw(0.02, 0.1),
    }


def piping(draw):
    """A pipe, a stay or a sleeve that carries load; half of them stick as well."""
    sticks = draw(0.2, 0.5) if draw(0, 1) < 0.5 else 0.0
    return {"pipe_percent": log(draw, 0.1, 5), "pipe_sticks": sticks}


#: name: what is planted, and what it must be called
FAULTS = {
    "zero moved": (lambda d: {"zero_kg": d.signed(0.3, 20)}, "scale_zero_moved"),
    "build-up": (lambda d: {"build_up_kg": log(d, 0.3, 60)}, "build_up"),
    "moisture": (lambda d: {"moisture_mohm": log(d, 10, 900)}, "moisture"),
    "span of the electronics": (
        lambda d: {"span_percent": d.signed(0.05, 3)},
        "span_parameter",
    ),
    # Sensitivity on record, a cell aged, a four-wire cable of some metres.
    "signal of the cells": (lambda d: {"cell_percent": d.signed(0.1, 5)}, "cell_signal"),
    # One piece of 20 kg of a thousand, up to half a layer.
    "a weight missing": (lambda d: {"short_percent": d(0.3, 6)}, "weights_wrong"),
    "piping": (piping, "piping"),
    "a cell without supply": (lambda d: {"dead_cell": True}, "cell_dead"),
    "a signal that is open": (lambda d: {"open_cell": True}, "cell_open"),
    "a corner": (lambda d: {"corner_percent": d.signed(0.2, 4)}, "corner_off"),
    "creep": (lambda d: {"creep_percent": log(d, 0.03, 0.5)}, "creep"),
}


@lru_cache
def begun():
    """A visit up to where a fault begins to show."""
    visit = VesselVisit()
    visit.until("as_found")
    return visit


def planted(seed, plant):
    visit, draw = forked(begun(), seed), Draw(seed)
    now = small(draw)
    more = plant(draw)
    return visit.model(**{**now, **more}), more


def called(task):
    """Return whether a fault is beyond U, and what it is called."""
    name, seed = task
    visit, more = planted(seed, FAULTS[name][0])
    figures, first, last = named(visit)
    u = max(b.expanded_uncertainty for b in figures.budgets) * 50
    return Seen(beyond(more, u), first, last)


def beyond(more, u):
    """Tell whether a fault moves what is shown by more than is accepted, and than U."""
    what, size = next(iter(more.items()))
    at_zero, at_load = max(0.5, u), max(LOAD * 0.1 / 100, u)
    moved = {
        "zero_kg": (abs(size), at_zero),
        "build_up_kg": (size, at_zero),
        # 0.09 mV/V per MΩ; a kilogram is 2 mV/V of 4 × 2200 kg.
        "moisture_mohm": (0.09 / size * 4400 if what == "moisture_mohm" else 0, at_zero),
        "span_percent": (abs(size) / 100 * LOAD, at_load),
        "cell_percent": (abs(size) / 100 * LOAD, at_load),
        "short_percent": (size / 100 * LOAD, at_load),
        "pipe_percent": (size / 100 * LOAD, at_load),
        "creep_percent": (size / 100 * LOAD, at_load),
        # A load over one support: 0.7 of it there, 0.1 elsewhere; corners may differ by 0.3 %.
        "corner_percent": (0.75 * 0.6 * abs(size), 0.3),
    }
    if isinstance(size, bool):
        return True
    by, accepted = moved[what]
    return by > 1.1 * accepted


def alarms(seed):
    """What is named at a vessel that is fine."""
    visit, _ = planted(seed, lambda d: {})
    return named(visit)[2]


FOUND = Table(
    title="Planted faults of vessels on load cells",
    what="A hopper of 5000 kg was loaded with 1000 kg up and down and over each corner, with the "
    "measurements for which the job asks.",
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
