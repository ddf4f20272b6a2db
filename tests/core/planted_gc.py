"""Faults planted in virtual chromatographs, and what the judgement calls them.

Sizes are those of the physics (leaks, months of ageing, moisture, carrier flow), drawn from the
seed with the scatter of volume and peaks beside them, and never from a limit of the rules.
``python -m tests.core.planted_gc`` writes the table in docs/methods.
"""

from __future__ import annotations

import sys
from collections import Counter
from copy import copy
from dataclasses import replace
from functools import lru_cache

from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.families.chromatograph.cause_rows import ROWS
from calibration.families.chromatograph.causes import evidence_of
from calibration.families.chromatograph.naming import causes_of
from calibration.families.chromatograph.tells import FIELDS
from calibration.kernel.numbers import exact
from calibration.runs.cause_rows import cured_by_setting
from calibration.simulate.rigs import settings_at
from tests.core.gcs import OUT_OF, GcVisit, shares
from tests.core.planted import Draw
from tests.long import several, spread, table

SET = cured_by_setting(ROWS)

SEEDS = several(full=200, small=12)
TABLE = table("gc-faults.md")


def small(visit, draw):
    """What every device has besides: scatter, responses that moved a little, gas in its paper."""
    lines = tuple(
        replace(line, response=1 + draw(-0.008, 0.008)) for line in visit.person.model.lines
    )
    visit.person.model = replace(
        visit.person.model,
        lines=lines,
        repeat_percent=draw(0.3, 0.9),
        peak_percent=draw(0.2, 0.5),
        aged_percent=draw(0, 0.8),
    )
    visit.out = {g: v * (1 + draw(-0.006, 0.006)) for g, v in OUT_OF.items()}
    visit.person.bottles = {"calibration_gas": shares(visit.out)}
    return visit


def change(visit, **faults):
    visit.person.model = replace(visit.person.model, **faults)


def leak(visit, draw):
    """A thread or septum that loses 2 to 15 % of each injection."""
    change(visit, leak_percent=draw(2, 15), steady_leak=True)


def aged(visit, draw):
    """1 to 3 % a month, over one to twelve months."""
    change(visit, aged_percent=draw(1, 3) * draw(1, 12))


def moisture(visit, draw):
    change(visit, moisture_percent=draw(4, 15))


def carrier(visit, draw):
    change(visit, carrier_percent=draw.signed(3.5, 10))


def one(visit, draw):
    """The response of one component moved: its catalyst, its stretch of the column."""
    n = int(draw(0, len(visit.person.model.lines)))
    visit.line(n, response=1 - draw(0.06, 0.3))


def part(visit, draw):
    gas = draw.one_of(*OUT_OF)
    out = {**visit.out, gas: visit.out[gas] * (1 + draw.signed(0.1, 0.4))}
    visit.person.bottles = {"calibration_gas": shares(out)}


def weaker(visit, draw):
    change(visit, gas_percent=draw(14, 60))


def nothing(visit, draw):
    """A good device."""


#: name: what is planted, and what it must be called
FAULTS = {
    "leak, always as much": (leak, "gc_volume"),
    "detector weaker": (aged, "gc_aged"),
    "moisture on the column": (moisture, "gc_moisture"),
    "carrier flow": (carrier, "gc_carrier"),
    "response of one component": (one, "gc_response"),
    "part of the gas": (part, "gc_part"),
    # Half a bottle of another strength, or the wrong one: beyond what a detector loses at once.
    "gas weaker than its label": (weaker, "gc_gas"),
}


@lru_cache
def begun():
    visit = GcVisit()
    visit.until("fill")
    return visit


def visited(plant, seed):
    """One visit up to where a pair agrees, or none does."""
    first, draw = begun(), Draw(seed)
    visit = copy(first)
    visit.events = list(first.events)
    visit.person = replace(first.person, seed=seed, commands=list(first.person.commands))
    small(visit, draw)
    plant(visit, draw)
    for _ in range(40):
        state = visit.state()
        if state.current_step in ("tell", "judge", "purge", "none_agree"):
            return visit
        visit.step(state)
    raise AssertionError("no pair and no end")


def called(name, seed):
    """Return whether it is outside beyond U, and what it is called before and after measuring."""
    plant, _ = FAULTS[name]
    visit = visited(plant, seed)
    with exact():
        job = Job(build(visit.method, visit.events), visit.now)
        seen = evidence_of(job)
    if seen is None:
        return None
    person = visit.person
    told = settings_at(person.model, person.commands, person.t)
    first = causes_of(seen)
    last = causes_of(replace(seen, apart={n: float(told[n]) for n, _, _ in FIELDS.values()}))
    if not first:
        return False, (), ()
    worst = max(
        (p for p in seen.parts if p.id in first), key=lambda p: abs(p.shows - p.value) / p.limit
    )
    return (
        True,
        tuple(c.cause for c in first[worst.id]),
        tuple(c.cause for c in last[worst.id]),
    )


def _row(task):
    return called(*task)


def alarms(seed):
    """What is named at a device that is fine, apart from a response that moved."""
    visit = visited(nothing, seed)
    with exact():
        seen = evidence_of(Job(build(visit.method, visit.events), visit.now))
    found = causes_of(seen) if seen is not None else {}
    return sorted({c.cause for causes in found.values() for c in causes} - {*SET})


def outcome(right, found):
    """Return how one fault counts."""
    if found is None:
        return "no pair"
    outside, _, last = found
    if not outside:
        return "smaller"
    if last == (right,):
        return "named"
    return "between two" if right in last[:2] else "wrong"


def count(seeds=SEEDS):
    """Counts for each fault, and false alarms."""
    tasks = [(name, seed) for name in FAULTS for seed in range(1, seeds + 1)]
    good = range(1, 2 * seeds + 1)
    rows, suspected = spread(_row, tasks), spread(alarms, good)
    counted = {name: Counter() for name in FAULTS}
    for (name, _), found in zip(tasks, rows, strict=True):
        right = FAULTS[name][1]
        counted[name][outcome(right, found)] += 1
        if found is not None and found[0]:
            _, first, last = found
            counted[name]["open at first"] += right in first and len(first) > 1
            counted[name]["wrong remedy"] += right not in last and (last[0] in SET) != (
                right in SET
            )
    return counted, sum(1 for s in suspected if s), len(good)


def share(part_, whole):
    return f"{100 * part_ / whole:.1f} %" if whole else "none"


def judged(names):
    return sum(names[k] for k in ("named", "between two", "wrong"))


def as_text(found, wrong, good):
    lines = [
        "# Planted faults of chromatographs",
        "",
        f"Each fault was planted in a virtual device {SEEDS} times, with sizes from physics and "
        "the scatter of volume and peaks drawn from the seed, and gas was injected until two "
        "agreed. The faults come from our own simulators: real devices will be less kind. `make "
        "tables` computes this anew; a test compares.",
        "",
        "*Outside* moves a component past its limit, or its peaks past their windows. *Open at "
        "first* is left open between two, with the injection that tells. *No pair*: no two agreed "
        "within 2.5 %, and the job ends without a verdict. *Smaller* ones are misses.",
        "",
        "| planted | outside | open at first | named first | between two | wrong | no pair | "
        "smaller |",
        "|---|---|---|---|---|---|---|---|",
    ]
    for name, names in found.items():
        n = judged(names)
        lines.append(
            f"| {name} | {n} | {share(names['open at first'], n)} | {share(names['named'], n)} | "
            f"{share(names['between two'], n)} | {share(names['wrong'], n)} | "
            f"{names['no pair']} | {names['smaller']} |"
        )
    every = sum(judged(n) + n["no pair"] + n["smaller"] for n in found.values())
    remedy = sum(n["wrong remedy"] for n in found.values())
    lines += [
        "",
        f"Wrong remedy first: {remedy} of {every} ({share(remedy, every)}).",
        f"False alarms: {wrong} of {good} good devices ({share(wrong, good)}).",
    ]
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    text = as_text(*count())
    TABLE.write_text(text)
    sys.stdout.write(text)
