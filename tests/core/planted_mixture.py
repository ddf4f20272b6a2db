"""Faults planted in virtual analyzers of several components, and what the judgement calls them.

Sizes are those of the physics (shares of air, hectopascals, drift of a cell), drawn from the seed
with small errors beside them, and never from a limit of the rules. ``python -m
tests.core.planted_mixture`` writes the table in docs/methods.
"""

from __future__ import annotations

import math
import sys
from collections import Counter
from copy import copy
from dataclasses import replace
from functools import lru_cache

from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.families.mixture.cause_rows import ROWS
from calibration.families.mixture.causes import evidence_of
from calibration.families.mixture.facts import components
from calibration.families.mixture.model import Adds, settings_at
from calibration.families.mixture.naming import causes_of
from calibration.families.mixture.tells import FIELDS
from calibration.kernel.numbers import exact
from calibration.runs.cause_rows import cured_by_setting
from tests.core.mixtures import COMPONENTS, MIXED, OUT_OF, MixVisit, facts, shares
from tests.core.planted import Draw
from tests.long import several, spread, table

SET = cured_by_setting(ROWS)

SEEDS = several(full=200, small=12)
TABLE = table("mixture-faults.md")
WITH, WITHOUT, LOW = "with oxygen", "without oxygen", "low range"
#: carbon monoxide in its low range, which carbon dioxide disturbs by its record
LOW_RANGE = {
    **COMPONENTS[1],
    "unit": "ppm",
    "upper": "1000",
    "cross": [{"of": "a", "percent": "600"}],
}


def log(draw, low, high):
    """Return a size of which each decade is as likely as the next."""
    return 10 ** draw(math.log10(low), math.log10(high))


def small(visit, draw):
    """What every analyzer has besides: weather, a little drift, gas within its paper."""
    cells = tuple(
        replace(
            c,
            gain=1 + draw(-0.004, 0.004),
            zero=c.upper * draw(-0.002, 0.002),
            adds=tuple(replace(a, percent=a.percent * draw(-0.1, 0.1)) for a in c.adds),
        )
        for c in visit.person.model.cells
    )
    visit.person.model = replace(
        visit.person.model,
        cells=cells,
        pressure_hpa=draw(-3, 3),
        warm_percent=draw(0, 0.5),
        noise_percent=draw(0.01, 0.05),
    )
    parts = visit.parts
    out = {g: v * (1 + draw(-0.004, 0.004)) for g, v in parts.items()}
    visit.person.bottles = {**visit.person.bottles, "mixture": shares(out)}
    visit.out = out
    return visit


def air(visit, draw):
    """A twentieth to a fifth of the mixture is air of the room."""
    visit.person.model = replace(visit.person.model, drawn_in=log(draw, 0.01, 0.2))


def pressure(visit, draw):
    """A bent or shared outlet: 10 to 100 hPa more, or a pump that draws as much."""
    now = visit.person.model
    visit.person.model = replace(now, pressure_hpa=draw.signed(10, 100))


def span(visit, draw):
    """A cell drifted, as cells do within months."""
    visit.cell(draw.one_of(0, 1), gain=1 + draw.signed(0.01, 0.05))


def far(visit, draw):
    """A lamp or a mirror: a cell that answers by a tenth or a third less."""
    visit.cell(draw.one_of(0, 1), gain=1 - draw(0.08, 0.35))


def zero(visit, draw):
    n = draw.one_of(0, 1)
    visit.cell(n, zero=visit.person.model.cells[n].upper * draw.signed(0.01, 0.06))


def cross(visit, draw):
    """0.01 to 0.05 % vol of carbon monoxide by 30 % of carbon dioxide, as a share of it."""
    ppm_per_percent = draw(0.01, 0.05) * 10_000 / 30
    visit.cell(1, adds=(Adds(gas="carbon dioxide", percent=100 * ppm_per_percent),))


def part(visit, draw):
    """One part of the mixture is not what its paper says."""
    gas = draw.one_of("carbon dioxide", "carbon monoxide")
    out = {**visit.out, gas: visit.out[gas] * (1 + draw.signed(0.06, 0.4))}
    visit.person.bottles = {**visit.person.bottles, "mixture": shares(out)}


def nothing(visit, draw):
    """A good analyzer."""


#: name: what is planted, what it must be called, and which analyzer
FAULTS = {
    "air drawn in, with oxygen": (air, "air_drawn_in", WITH),
    "air drawn in, without oxygen": (air, "air_drawn_in", WITHOUT),
    "pressure in the cells, with oxygen": (pressure, "cell_pressure", WITH),
    "pressure in the cells, without oxygen": (pressure, "cell_pressure", WITHOUT),
    "span of a cell": (span, "mix_span_moved", WITH),
    "span of a cell, far": (far, "mix_span_moved", WITH),
    "zero of a cell": (zero, "mix_zero_moved", WITH),
    "part of the mixture": (part, "mix_part_wrong", WITH),
    "disturbed, low range": (cross, "mix_cross", LOW),
}


@lru_cache
def begun(how):
    """A visit up to where a fault begins to show."""
    mixed, own, faults = MIXED, COMPONENTS, {}
    if how == WITHOUT:
        mixed, own = MIXED[:2], COMPONENTS[:2]
    if how == LOW:
        own = [COMPONENTS[0], LOW_RANGE, COMPONENTS[2]]
        monoxide = {**MIXED[1], "value": "800", "unit": "ppm"}
        mixed = (MIXED[0], monoxide, MIXED[2])
    visit = MixVisit(facts_=facts(own), mixed=mixed, out={}, **faults)
    cells = list(visit.person.model.cells[: len(own)])
    if how == LOW:
        cells[1] = replace(cells[1], unit="ppm", upper=1000.0)
    visit.person.model = replace(visit.person.model, cells=tuple(cells))
    visit.parts = {g: v for g, v in OUT_OF.items() if how != WITHOUT or g != "oxygen"}
    if how == LOW:
        visit.parts["carbon monoxide"] = 0.08
    visit.until("process_before")
    return visit


def visited(plant, seed, how):
    """One visit up to the judgement; nothing is set before."""
    first, draw = begun(how), Draw(seed)
    visit = copy(first)
    visit.events = list(first.events)
    visit.person = replace(first.person, seed=seed, commands=list(first.person.commands))
    small(visit, draw)
    plant(visit, draw)
    visit.until("in_span")
    return visit


def called(name, seed):
    """Return whether it is outside beyond U, and what it is called before and after measuring."""
    plant, right, how = FAULTS[name]
    visit = visited(plant, seed, how)
    state = visit.state()
    before = list(visit.person.commands)
    (_, data), *_ = visit.person.act(state)
    visit.person.commands = before  # it is read, and nothing is set
    read = {k: v for k, v in data.items() if "_after" not in k}
    visit.push("mixed", kept=True, **read)
    with exact():
        job = Job(build(visit.method, visit.events), visit.now)
        seen = evidence_of(job)
        u = {
            c.id: job.figures(f"as_found{s}").budgets[1].expanded_uncertainty * float(c.upper) / 100
            for c, s in zip(components(job.ledger.facts), ("", "_b", "_c"), strict=False)
        }
    first = causes_of(seen)
    last = causes_of(replace(seen, apart=measured(visit)))
    names = {"air_drawn_in": "ab", "cell_pressure": "ab"}.get(right, "ab")
    hit = [p for p in seen.parts if p.id in names and p.id in first]
    worst = max(
        hit,
        key=lambda p: abs((p.shows or 0) - p.value) / p.limit + abs(p.zero_error) / p.limit,
        default=None,
    )
    if worst is None:
        return False, (), ()
    beyond = max(abs(worst.shows - worst.value), abs(worst.zero_error)) > u[worst.id]
    return (
        beyond,
        tuple(c.cause for c in first[worst.id]),
        tuple(c.cause for c in last[worst.id]),
    )


def measured(visit):
    """Return what the measurements that tell causes apart read on the virtual analyzer."""
    person = visit.person
    told = settings_at(person.model, person.commands, person.t)
    return {name: float(told[name]) for name, _, _ in FIELDS.values()}


def _row(task):
    return called(*task)


def alarms(task):
    """What is named at an analyzer that is fine, apart from what drifted."""
    how, seed = task
    visit = visited(nothing, seed, how)
    visit.until("process_back")
    return [c.cause for c in visit.state().judgement.causes if c.cause not in SET]


def outcome(right, beyond, last):
    """Return how one fault counts."""
    if not beyond:
        return "smaller, named" if right in last else "smaller, missed"
    if last == (right,):
        return "named"
    if right in last[:2]:
        return "between two"
    return "wrong" if last else "missed"


def count(seeds=SEEDS):
    """Counts for each fault, and false alarms."""
    tasks = [(name, seed) for name in FAULTS for seed in range(1, seeds + 1)]
    good = [(how, seed) for how in (WITH, WITHOUT, LOW) for seed in range(1, seeds + 1)]
    rows, suspected = spread(_row, tasks), spread(alarms, good)
    found = {name: Counter() for name in FAULTS}
    for (name, _), (beyond, first, last) in zip(tasks, rows, strict=True):
        right = FAULTS[name][1]
        found[name][outcome(right, beyond, last)] += 1
        found[name]["open at first"] += beyond and right in first and len(first) > 1
        wrong = bool(last) and right not in last and (last[0] in SET) != (right in SET)
        found[name]["wrong remedy"] += wrong
    return found, sum(1 for s in suspected if s), len(good)


def share(part_, whole):
    return f"{100 * part_ / whole:.1f} %" if whole else "none"


def beyond_of(names):
    return sum(names[k] for k in ("named", "between two", "wrong", "missed"))


def as_text(found, wrong, good):
    lines = [
        "# Planted faults of analyzers of several components",
        "",
        f"Each fault was planted in a virtual analyzer {SEEDS} times, with sizes from physics and "
        "small errors beside it drawn from the seed, and both gases were read. The faults come "
        "from our own simulators: real analyzers will be less kind. `make tables` computes this "
        "anew; a test compares.",
        "",
        "*Beyond U* moves a component by more than its uncertainty and its limit. *Open at first* "
        "is left open between two by the readings, with the measurement that tells. *Smaller* "
        "ones are no fault of the naming and are misses all the same.",
        "",
        "| planted | beyond U | open at first | named first | between two | wrong or missed | "
        "smaller: named, missed |",
        "|---|---|---|---|---|---|---|",
    ]
    for name, names in found.items():
        n = beyond_of(names)
        lines.append(
            f"| {name} | {n} | {share(names['open at first'], n)} | {share(names['named'], n)} | "
            f"{share(names['between two'], n)} | {share(names['wrong'] + names['missed'], n)} | "
            f"{names['smaller, named']}, {names['smaller, missed']} |"
        )
    every = sum(beyond_of(n) + n["smaller, named"] + n["smaller, missed"] for n in found.values())
    remedy = sum(n["wrong remedy"] for n in found.values())
    lines += [
        "",
        f"Wrong remedy first: {remedy} of {every} ({share(remedy, every)}).",
        f"False alarms: {wrong} of {good} good analyzers ({share(wrong, good)}).",
    ]
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    text = as_text(*count())
    TABLE.write_text(text)
    sys.stdout.write(text)
