"""Faults planted in virtual mass flow meters, and what the judgement calls them.

``python -m tests.core.planted_massflow`` writes the table in docs/methods.
"""

from __future__ import annotations

import math
import sys
from functools import lru_cache

from calibration.families.massflow.cause_rows import ROWS
from calibration.runs.cause_rows import cured_by_setting
from tests.core.massflows import MassFlowVisit
from tests.core.plant import forked, named
from tests.core.planted import Draw
from tests.core.planting import Seen, Table
from tests.long import several, table

SET = cured_by_setting(ROWS)

SEEDS = several(full=200, small=12)
TABLE = table("massflow-faults.md")
ZERO, PROVE = "massflow_zero", "massflow_prove"


def log(draw, low, high):
    """Return a size of which each decade is as likely as the next."""
    return 10 ** draw(math.log10(low), math.log10(high))


def small(draw):
    """What every good meter has: a zero within its stability, gain and density of the day."""
    return {
        "zero": draw.signed(0.0, 0.5),
        "gain": draw(5.0, 7.5),
        "density": 1320 * (1 + draw(-0.004, 0.004)),
        "noise": draw(0.2, 0.45),
        "gas_percent": draw(0, 0.002),
        "factor_percent": draw(-0.06, 0.06),
        "scatter_percent": draw(0.004, 0.012),
        "reference_percent": draw(-0.02, 0.02),
        # What a plant can raise: seldom fourfold.
        "raised": draw(1.3, 4.0),
    }


#: name: what is planted, what it must be called, by which method it is seen
FAULTS = {
    # A zero that moved by months, pipe stress or another temperature: up to twenty stabilities.
    "zero moved": (lambda d: {"zero": d.signed(0.6, 24)}, "zero_moved", ZERO),
    "valve leaks": (lambda d: {"leak": log(d, 0.6, 24)}, "valve_leaks", ZERO),
    "gas": (lambda d: {"gas_percent": log(d, 0.03, 5)}, "gas_in_it", ZERO),
    "not full": (lambda d: {"empty_percent": d(10, 50)}, "not_full", ZERO),
    "solids": (lambda d: {"solids_percent": log(d, 0.1, 10)}, "solids_in_it", ZERO),
    "crosstalk": (
        lambda d: {"beat": log(d, 0.5, 12), "beat_s": d(4, 20)},
        "crosstalk",
        ZERO,
    ),
    "coating": (lambda d: {"coated_percent": d(0.3, 6)}, "tube_coated", ZERO),
    "factor moved": (lambda d: {"factor_percent": d.signed(0.1, 1.5)}, "factor_moved", PROVE),
    "reference wrong": (
        lambda d: {"reference_percent": d.signed(0.1, 2.0)},
        "quantity_wrong",
        PROVE,
    ),
    "runs differ": (lambda d: {"scatter_percent": log(d, 0.02, 0.5)}, "runs_differ", PROVE),
}


@lru_cache
def begun(method):
    """A visit up to where a fault begins to show."""
    visit = MassFlowVisit(method)
    visit.until("flowing" if method == ZERO else "ready_to_prove")
    return visit


def planted(method, seed, plant):
    visit, draw = forked(begun(method), seed), Draw(seed)
    now = small(draw)
    more = plant(draw)
    if "density" in now and "coated_percent" in more:
        now["density"] = 1320.0
    return visit.model(**{**now, **more}), more


def called(task):
    """Return whether a fault is beyond U, and what it is called."""
    name, seed = task
    plant, _, method = FAULTS[name]
    visit, more = planted(method, seed, plant)
    figures, first, last = named(visit)
    u = figures.budgets[0].expanded_uncertainty
    # Of the span of 20,000 kg/h; of a run that is half of its span.
    scale = 200.0 if method == ZERO else 2.0
    return Seen(beyond(more, u * scale, visit.person.model), first, last)


def beyond(more, u, model):
    """Tell whether a fault moves what it moves by more than its uncertainty and its limit."""
    ((what, size),) = [(k, v) for k, v in more.items() if k != "beat_s"]
    if what in ("zero", "leak"):
        return abs(model.zero + model.leak) > 1.2 + u
    uneven = {"gas_percent": 1.0, "solids_percent": 0.3, "empty_percent": 0.5}
    if what in uneven:
        return 2 * model.noise * uneven[what] * size > u
    if what == "beat":
        return size / math.sqrt(2) > 1.2
    if what == "coated_percent":
        # Liquids of one name differ by a percent or so.
        return size > 1.0 + 0.1
    if what == "scatter_percent":
        # Five runs lie 2.326 standard deviations apart in the mean: accepted are 0.05 %.
        return 2.326 * size > 2 * 0.05
    return abs(model.factor_percent - model.reference_percent) > 0.2 + u


def alarms(seed):
    """What is named at a meter that is fine."""
    visit, _ = planted((ZERO, PROVE)[seed % 2], seed, lambda d: {})
    return named(visit)[2]


FOUND = Table(
    title="Planted faults of mass flow meters",
    what="The visit was played up to the judgement, with the measurement for which it asks.",
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
