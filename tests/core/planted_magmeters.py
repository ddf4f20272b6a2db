"""Faults planted in virtual electromagnetic flow meters, and what the judgement calls them.

``python -m tests.core.planted_magmeters`` writes the table in docs/methods.
"""

from __future__ import annotations

import math
import sys
from functools import lru_cache

from tests.core.magmeters import MagVisit
from tests.core.plant import forked, named
from tests.core.planted import Draw
from tests.core.planting import Seen, Table
from tests.long import several, table

SEEDS = several(full=200, small=12)
TABLE = table("magmeter-faults.md")


def log(draw, low, high):
    """Return a size of which each decade is as likely as the next."""
    return 10 ** draw(math.log10(low), math.log10(high))


def small(draw):
    """What every good meter has: a degree, a film on the electrodes, the liquid of the day."""
    return {
        "coil_c": 48 + draw(-1, 1),
        "magnet_percent": draw(-0.2, 0.2),
        "coated": draw(1.0, 1.15),
        "conductivity": 1800 * (1 + draw(-0.05, 0.05)),
        "output_ma": draw(-0.005, 0.005),
        "board_percent": draw(-0.03, 0.03),
        "noise_percent": draw(0.02, 0.08),
    }


#: name: what is planted, and what it must be called
FAULTS = {
    "turns shorted": (lambda d: {"shorted_percent": d(1, 20)}, "coil_shorted"),
    "coil warmer or colder": (lambda d: {"coil_c": 48 + d.signed(3, 30)}, "coil_warm"),
    "coil insulation": (lambda d: {"coil_mohm": log(d, 0.1, 20)}, "coil_wet"),
    "field weaker": (lambda d: {"magnet_percent": d(0.5, 3)}, "magnet_weak"),
    "electrodes coated": (lambda d: {"coated": log(d, 1.3, 50)}, "electrode_coated"),
    "another liquid": (
        lambda d: {"conductivity": 1800 * log(d, 0.1, 0.9)},
        "liquid_conducts_less",
    ),
    "electrode insulation": (lambda d: {"electrode_mohm": log(d, 0.1, 20)}, "electrode_wet"),
    "output": (lambda d: {"output_ma": d.signed(0.01, 0.3)}, "mag_output_off"),
    "electronics": (lambda d: {"board_percent": d.signed(0.1, 2)}, "mag_electronics"),
    "a wire not back": (lambda d: {"wire_off": True}, "wire_not_back"),
}


@lru_cache
def begun(step):
    """A visit up to where a fault begins to show."""
    visit = MagVisit()
    visit.until(step)
    return visit


def planted(seed, plant, step):
    visit, draw = forked(begun(step), seed), Draw(seed)
    now = small(draw)
    more = plant(draw)
    return visit.model(**{**now, **more}), more


def called(task):
    """Return whether a fault is beyond its limit, and what it is called."""
    name, seed = task
    visit, more = planted(
        seed, FAULTS[name][0], "live_output" if "wire" in name else "tester_power"
    )
    if "wire" in name:
        state = visit.until("live_judge")
        said = tuple(c.cause for c in state.judgement.causes)
        return Seen(True, said, said)
    _, first, last = named(visit)
    return Seen(beyond(more), first, last)


def beyond(more):
    """Tell whether a fault moves its line past its limit, and past what lies beside it."""
    ((what, size),) = more.items()
    return {
        "shorted_percent": abs(size) > 3 + 0.6,
        "coil_c": 0.393 * abs(size - 48) > 3 + 0.2,
        "coil_mohm": True,
        "magnet_percent": size > 1 + 0.2,
        "coated": size > 1.6 * 1.05 + 0.1,
        "conductivity": 1800 / size > 1.6 + 0.1,
        "electrode_mohm": True,
        "output_ma": abs(size) > 0.02 + 0.003,
        "board_percent": abs(size) > 0.2 + 0.2,
    }[what]


def alarms(seed):
    """What is named at a meter that is fine."""
    visit, _ = planted(seed, lambda d: {}, "tester_power")
    return named(visit)[2]


FOUND = Table(
    title="Planted faults of electromagnetic flow meters",
    what="The tester went through its lines, with the measurement for which the job asks.",
    faults=FAULTS,
    called=called,
    alarms=alarms,
    sets=(),
    seeds=SEEDS,
)

if __name__ == "__main__":
    text = FOUND.text()
    TABLE.write_text(text)
    sys.stdout.write(text)
