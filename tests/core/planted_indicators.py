"""Faults planted in virtual load-cell indicators, and what the judgement calls them.

``python -m tests.core.planted_indicators`` writes the table in docs/methods.
"""

from __future__ import annotations

import sys
from functools import lru_cache

from calibration.families.indicator.cause_rows import ROWS
from calibration.runs.cause_rows import cured_by_setting
from tests.core.indicators import IndicatorVisit
from tests.core.plant import forked, named
from tests.core.planted import Draw
from tests.core.planting import Seen, Table
from tests.long import several, table

SET = cured_by_setting(ROWS)

SEEDS = several(full=200, small=12)
TABLE = table("indicator-faults.md")
LOAD = 300.0


def small(draw):
    """What every good indicator has: a step of zero, a cell and a load as their papers say."""
    return {
        "zero_kg": draw(-0.02, 0.02),
        "cell_percent": draw(-0.02, 0.02),
        "load_percent": draw(-0.003, 0.003),
        "noise_kg": draw(0.002, 0.01),
    }


def mistyped(draw):
    """Two digits of 2.0375 swapped, or one typed wrong: from a few parts in a thousand on."""
    typed = draw.one_of(2.0357, 2.0735, 2.3075, 2.0475, 2.0365, 2.0376, 2.0315, 2.1375)
    return {"factor_percent": 100 * (typed / 2.0375 - 1)}


#: name: what is planted, and what it must be called
FAULTS = {
    "factor mistyped": (mistyped, "factor_mistyped"),
    "another unit": (lambda d: {"unit": d.one_of("lb", "t", "g")}, "unit_wrong"),
    "zeroed with a load on": (lambda d: {"zero_kg": -d(0.05, 0.8) * LOAD}, "zeroed_with_load"),
    "zero moved": (lambda d: {"zero_kg": d.signed(0.03, 3)}, "indicator_zero"),
    "something lies on it": (lambda d: {"lies_kg": 10 ** d(-1.5, 1)}, "lies_on_it"),
    "cell": (lambda d: {"cell_percent": d.signed(0.05, 4)}, "cell_moved"),
    # A piece that is missing, or a set with another's certificate.
    "load": (lambda d: {"load_percent": d.signed(0.05, 7)}, "load_wrong"),
}


@lru_cache
def begun():
    """A visit up to where a fault begins to show."""
    visit = IndicatorVisit()
    visit.until("settings")
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
    u = max(b.expanded_uncertainty for b in figures.budgets) * 3
    return Seen(beyond(more, u), first, last)


def beyond(more, u):
    """Tell whether a fault moves what is shown by more than is accepted, and than U."""
    ((what, size),) = more.items()
    if what == "unit":
        return True
    kg = abs(size) if what.endswith("_kg") else abs(size) / 100 * LOAD
    accepted = 0.05 if what.endswith("_kg") else LOAD * 0.1 / 100
    # Beside it lie small errors of the zero, or of the cell.
    return kg > max(accepted, u) + (0.03 if what.endswith("_kg") else 0.07)


def alarms(seed):
    """What is named at an indicator that is fine."""
    visit, _ = planted(seed, lambda d: {})
    return named(visit)[2]


FOUND = Table(
    title="Planted faults of load-cell indicators",
    what="A platform of 300 kg was read with nothing, with 300 and with 150 kg, with the "
    "measurement for which the job asks.",
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
