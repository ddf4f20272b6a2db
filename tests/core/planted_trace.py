"""Faults planted in virtual trace oxygen analyzers, and what the judgement calls them.

Sizes are those of the physics (microlitres of air, metres of tubing, months of ageing), drawn from
the seed with small errors beside them, and never from a limit of the rules. ``python -m
tests.core.planted_trace`` writes the table in docs/methods.
"""

from __future__ import annotations

import math
import sys
from collections import Counter
from copy import copy
from dataclasses import replace
from datetime import date, timedelta
from functools import lru_cache

from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.families.trace.cause_rows import ROWS
from calibration.families.trace.causes import evidence_of
from calibration.families.trace.naming import causes_of
from calibration.kernel.numbers import exact
from calibration.runs.cause_rows import cured_by_setting
from tests.core.planted import Draw
from tests.core.traces import TraceVisit, facts, regulator
from tests.long import several, spread, table

SET = cured_by_setting(ROWS)

SEEDS = several(full=200, small=12)
TABLE = table("trace-faults.md")
#: What a regulator in dead corners gives off at the start when it is full of air. [ppm]
FULL_OF_AIR = 209476 * 2 * 0.004


def log(draw, low, high):
    """Return a size of which each decade is as likely as the next."""
    return 10 ** draw(math.log10(low), math.log10(high))


def small(visit, draw, months):
    """What every analyzer has besides: weather, a zero, gas within its certificate, ageing."""
    visit.person.model = replace(
        visit.person.model,
        weather_percent=draw(-1.0, 1.0),
        zero_ppm=draw(0.0, 0.05),
        gas_ppm=8 * (1 + draw(-0.015, 0.015)),
        response=1 - 0.003 * months,
        leak_ul_min=draw(0, 0.05),
        tau_s=draw(9, 16),
        noise_percent=draw(0.05, 0.25),
        output_span_percent=draw(-0.2, 0.2),
    )
    return visit


def model(visit, **faults):
    visit.person.model = replace(visit.person.model, **faults)


def leak(visit, draw):
    model(visit, leak_ul_min=log(draw, 1, 20))


def tubing(visit, draw):
    """One to six metres of plastic, about 1 ppm a metre at half a litre a minute."""
    model(visit, tubing_ul_min=2.4 * draw(1, 6))


def leak_on_plastic(visit, draw):
    model(visit, leak_ul_min=log(draw, 1, 20), tubing_ul_min=draw(0, 0.3))


def unbled(visit, draw):
    """Air came into a regulator that stood under pressure: corners that give off 5 to 100 ppm."""
    air = log(draw, 5, 100) / FULL_OF_AIR
    model(visit, bled_before=air, dead_tau_s=60 * log(draw, 5, 60))


def exposed(visit, draw):
    model(visit, exposed_ppm=log(draw, 2, 50), exposed_tau_s=60 * log(draw, 30, 240))


def aged(visit, draw):
    """Up to 1.5 % a month, where the others weaken by 0.3 %; over three to eighteen months."""
    slow = 1 - visit.person.model.response
    model(visit, response=1 - slow * draw(2, 5))


def spent(visit, draw):
    model(visit, response=draw(0.2, 0.53))


def other_gas(visit, draw):
    """Filled wrongly, or the cylinder of another label: a quarter to twice as much."""
    model(visit, gas_ppm=8 * log(draw, 0.25, 2))


def output(visit, draw):
    model(visit, output_span_percent=draw.signed(2, 8))


def nothing(visit, draw):
    """A good analyzer."""


#: name: what is planted, what it must be called, and the tubing on record
FAULTS = {
    "leak": (leak, "air_leak", "metal"),
    "leak, plastic tubing": (leak_on_plastic, "air_leak", "plastic"),
    "plastic tubing": (tubing, "permeable_tubing", "plastic"),
    "air in the regulator": (unbled, "unbled_regulator", "metal"),
    "sensor saw air": (exposed, "sensor_exposed", "metal"),
    "sensor weaker": (aged, "trace_aged", "metal"),
    "sensor spent": (spent, "trace_spent", "metal"),
    "another gas": (other_gas, "another_span_gas", "metal"),
    "output": (output, "output_off", "metal"),
}
DAY = date(2026, 5, 4)
BLED = {"bled_with": "V-9 on C-9", "bled_on": "2026-04-01", "left_bar": "4.8"}


@lru_cache
def begun(plastic, months):
    """A visit up to where a fault begins to show; its regulator was bled at the last one."""
    since = DAY - timedelta(days=round(30.4 * months))
    given = facts(tubing=plastic, responded_on=str(since), **BLED)
    visit = TraceVisit(facts_=given, regulator_=regulator())
    visit.until("process_before")
    return visit


def visited(plant, seed, plastic):
    """One visit up to the judgement."""
    draw = Draw(seed)
    months = round(draw(3, 18))
    first = begun(plastic, months)
    visit = copy(first)
    visit.events = list(first.events)
    visit.person = replace(first.person, seed=seed, commands=list(first.person.commands))
    small(visit, draw, months)
    plant(visit, draw)
    visit.until("judge")
    return visit


def called(name, seed):
    """Return whether it moves the result beyond U, what it is called before and after measuring."""
    plant, right, plastic = FAULTS[name]
    visit = visited(plant, seed, plastic)
    with exact():
        job = Job(build(visit.method, visit.events), visit.now)
        seen = evidence_of(job, "as_found", job.as_found)
        first = [c.cause for c in causes_of(replace(seen, apart={}))]
        last = [c.cause for c in causes_of(seen)]
    off = seen.output_off if right == "output_off" else seen.shows - seen.value
    # Every sensor weakened: where that is most of what it reads low, setting it is right, too.
    weaker = (1 - visit.person.model.response) * seen.value
    both = last == ["trace_aged"] and 2 * weaker >= seen.value - seen.shows
    beyond = abs(off) > max(seen.u, seen.limit)
    return beyond, tuple(first), tuple(last), harmful(right, last) and not both


def _row(task):
    return called(*task)


def alarms(seed):
    """What is named at an analyzer that is fine, apart from what it weakened."""
    plastic = "plastic" if seed % 2 else "metal"
    found = visited(nothing, seed, plastic).state().judgement.causes
    return [c.cause for c in found if c.cause not in SET]


def outcome(right, beyond, first, last):
    """Return how one fault counts."""
    if not beyond:
        return "smaller, named" if right in last else "smaller, missed"
    if last[:1] == (right,) and len(last) == 1:
        return "named"
    if right in last[:2]:
        return "between two"
    return "wrong" if last else "missed"


def harmful(right, last):
    """Tell whether the remedy that stands first would hide it or take the wrong thing away."""
    return bool(last) and right not in last and (last[0] in SET) != (right in SET)


def count(seeds=SEEDS):
    """Counts for each fault, and false alarms."""
    tasks = [(name, seed) for name in FAULTS for seed in range(1, seeds + 1)]
    good = range(1, 2 * seeds + 1)
    rows, suspected = spread(_row, tasks), spread(alarms, good)
    found = {name: Counter() for name in FAULTS}
    for (name, _), (beyond, first, last, harm) in zip(tasks, rows, strict=True):
        right = FAULTS[name][1]
        found[name][outcome(right, beyond, first, last)] += 1
        found[name]["open at first"] += beyond and right in first and len(first) > 1
        found[name]["wrong remedy"] += harm
    return found, sum(1 for s in suspected if s), len(good)


def share(part, whole):
    return f"{100 * part / whole:.1f} %" if whole else "none"


def beyond_of(names):
    return sum(names[k] for k in ("named", "between two", "wrong", "missed"))


def as_text(found, wrong, good):
    lines = [
        "# Planted faults of trace oxygen analyzers",
        "",
        f"Each fault was planted in a virtual analyzer {SEEDS} times, with sizes from physics and "
        "small errors beside it drawn from the seed, and the visit was played up to the "
        "judgement, with the measurements for which the job asks. The faults come from our own "
        "simulators: real analyzers will be less kind. `make tables` computes this anew; a test "
        "compares.",
        "",
        "*Beyond U* moves what is read by more than its uncertainty and its limit. *Open at "
        "first* is left open by the reading alone, with the right one among those named. "
        "*Smaller* ones are no fault of the naming and are misses all the same.",
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
