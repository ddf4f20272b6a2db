"""Faults planted in virtual pH loops, and what the judgement calls them.

Sizes are those of the physics, drawn from the seed with small errors beside them, and never from a
limit of the rules. ``python -m tests.core.planted_ph`` writes the table in docs/methods.
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
from calibration.families.ph.causes import evidence_of
from calibration.families.ph.conditions import pair_of
from calibration.families.ph.electrode import begin, shown_ph
from calibration.families.ph.found import electrode_in
from calibration.families.ph.naming import causes_of
from calibration.families.ph.tells import MOVED
from calibration.kernel.numbers import exact
from tests.core.electrodes import PhVisit, counted_by, facts
from tests.core.planted import Draw
from tests.long import several, spread, table

SEEDS = several(full=200, small=12)
TABLE = table("ph-faults.md")
TWO, THREE = "two buffers", "three buffers"


def small(visit, draw):
    """What every loop has besides: a sound electrode, calibrated a month ago, bottles in limits."""
    slope, offset = draw(0.965, 0.995), draw(-8, 6)
    now = visit.person.model
    sound = replace(
        now,
        slope=slope,
        offset_mv=offset,
        tau_s=draw(4, 7),
        room_c=draw(18, 26),
        junction_mv=draw(0.2, 0.5),
        sensor_off_c=draw(-0.4, 0.4),
    )
    near, side, _ = (visit.person.bottles[r].nominal for r in visit.person.bottles)
    stored = counted_by(now.programmed, (near, side), sound)
    # In a month the offset wanders by a millivolt or so, the slope hardly.
    moved = math.sqrt(-2 * math.log(draw(1e-6, 1))) * math.cos(2 * math.pi * draw(0, 1))
    visit.person.model = replace(
        sound,
        stored_slope=stored[0],
        stored_offset_mv=stored[1],
        offset_mv=offset + 0.5 * moved,
        slope=slope - draw(0, 0.002),
    )
    visit.person.bottles = {
        role: replace(b, low=draw(-0.012, 0.012)) for role, b in visit.person.bottles.items()
    }
    return visit


def model(visit, **faults):
    visit.person.model = replace(visit.person.model, **faults)


def coated(visit, draw):
    model(visit, tau_s=draw(30, 180))


def aged(visit, draw):
    model(visit, slope=draw(0.85, 0.97))


def poisoned(visit, draw):
    model(visit, reference_mv=draw.signed(20, 120), drift_mv_per_h=draw.signed(0.5, 3))


def wet_plug(visit, draw):
    model(visit, shunt_mohm=10 ** draw(math.log10(300), math.log10(4000)))


def cracked(visit, draw):
    model(visit, cracked=True)


def shorted(visit, draw):
    model(visit, shorted=True)


def alkaline(visit, draw):
    role = "buffer_side" if visit.alkaline else "buffer_third"
    bottle = visit.person.bottles[role]
    visit.person.bottles = {**visit.person.bottles, role: replace(bottle, low=draw(0.03, 0.15))}


def temperature(visit, draw):
    model(visit, sensor_off_c=draw.signed(3, 15))


def other_set(visit, draw):
    """The analyzer counts technical buffers; primary ones were and are poured."""
    now = replace(visit.person.model, programmed="technical")
    stored = counted_by("technical", ("6.865", "4.006"), now)
    model(visit, programmed="technical", stored_slope=stored[0], stored_offset_mv=stored[1])


def earth(visit, draw):
    model(visit, loop_mv=draw.signed(5, 60))


def nothing(visit, draw):
    """A good loop."""


#: name: what is planted, what it must be called, set poured, buffers read, and whether on the
#: alkaline side; a text is the pH of a process that is read on the acid side all the same
FAULTS = {
    "coated": (coated, "coated_electrode", "technical", TWO, False),
    "aged": (aged, "aged_electrode", "technical", TWO, False),
    "poisoned reference": (poisoned, "poisoned_reference", "technical", TWO, False),
    "wet plug": (wet_plug, "wet_plug", "technical", TWO, False),
    "cracked glass": (cracked, "cracked_glass", "technical", TWO, False),
    "short in plug or cable": (shorted, "shorted_cable", "technical", TWO, False),
    "alkaline buffer low, 2 buffers": (alkaline, "alkaline_buffer", "technical", TWO, True),
    "alkaline buffer low, 3 buffers": (alkaline, "alkaline_buffer", "technical", THREE, True),
    "aged, 3 buffers": (aged, "aged_electrode", "technical", THREE, True),
    "temperature": (temperature, "temperature_sensor", "technical", TWO, False),
    "other buffer set": (other_set, "other_buffer_set", "primary", TWO, "9.2"),
    "earth loop": (earth, "earth_loop", "technical", TWO, False),
}
GOOD = (
    ("technical", TWO, False),
    ("primary", TWO, False),
    ("technical", THREE, True),
    ("technical", TWO, True),
    ("primary", THREE, False),
)


@lru_cache
def begun(set_, buffers, alkaline_side):
    """A visit up to where a fault begins to show, to be gone on with from many seeds."""
    side, process = ("alkaline", "9.2") if alkaline_side is True else ("acid", "3.4")
    if isinstance(alkaline_side, str):
        process = alkaline_side
    third = {"third_buffer": "yes"} if buffers == THREE else {}
    given = facts(side=side, process=process, set_=set_)
    visit = PhVisit(set_=set_, facts_=given, parameters=third)
    visit.alkaline = alkaline_side is True
    visit.until("process_before")
    return visit


def visited(plant, seed, set_, buffers, alkaline_side):
    """One visit up to the judgement."""
    first, draw = begun(set_, buffers, alkaline_side), Draw(seed)
    visit = copy(first)
    visit.events = list(first.events)
    visit.person = replace(first.person, seed=seed, commands=list(first.person.commands))
    small(visit, draw)
    plant(visit, draw)
    visit.until("judge")
    return visit


def in_process(visit):
    """Return what the loop reads in the process less what the process is, without noise."""
    loop = replace(visit.person.model, junction_mv=0.0)
    state = begin(loop)
    return shown_ph(loop, state, state.mv) - loop.process_ph


def called(name, seed):
    """Return whether it moves the result beyond U, and what it is called first and in the end."""
    plant, right, *how = FAULTS[name]
    visit = visited(plant, seed, *how)
    with exact():
        job = Job(build(visit.method, visit.events), visit.now)
        seen = evidence_of(job, "as_found", job.as_found)
        first = [c.cause for c in causes_of(replace(seen, apart={}))]
        last = [c.cause for c in causes_of(seen)]
        one = electrode_in(job, "as_found")
        low = max(b.low for b in visit.person.bottles.values())
        off = in_process(visit) if right != "alkaline_buffer" else low
        u = seen.process_u if right == "earth_loop" else one.process.u
        # A slow electrode is right in the end and wrong on the way: it always counts.
        beyond = right == "coated_electrode" or abs(off) > u
        asked = pair_of(job)
    return beyond, tuple(first), tuple(last), asked


def alarms(task):
    """What is named at a loop that is fine, apart from what moved a little."""
    how, seed = task
    visit = visited(nothing, seed, *how)
    return [c.cause for c in visit.state().judgement.causes if c.cause not in MOVED]


def _row(task):
    return called(*task)


def outcome(right, beyond, first, last):
    """Return how one fault counts."""
    if not beyond:
        return "smaller, named" if right in first else "smaller, missed"
    if first and first[0] == right and len(first) == 1:
        return "named"
    if right in first[:2]:
        return "between two"
    return "wrong" if first else "missed"


def count(seeds=SEEDS):
    """Counts for each fault, what it was called at last, and false alarms."""
    tasks = [(name, seed) for name in FAULTS for seed in range(1, seeds + 1)]
    good = [(how, seed) for how in GOOD for seed in range(1, seeds + 1)]
    rows, suspected = spread(_row, tasks), spread(alarms, good)
    found = {name: Counter() for name in FAULTS}
    for (name, _), (beyond, first, last, _asked) in zip(tasks, rows, strict=True):
        right = FAULTS[name][1]
        found[name][outcome(right, beyond, first, last)] += 1
        if beyond and last[:1] == (right,):
            found[name]["told"] += 1
        if first and right not in first[:2] and first[0] not in MOVED:
            found[name]["wrong remedy"] += 1
    return found, sum(1 for s in suspected if s), len(good)


def share(part, whole):
    return f"{100 * part / whole:.1f} %" if whole else "none"


def beyond_of(names):
    return sum(names[k] for k in ("named", "between two", "wrong", "missed"))


def as_text(found, wrong, good):
    lines = [
        "# Planted faults of pH loops",
        "",
        f"Each fault was planted in a virtual loop {SEEDS} times, with sizes from physics and "
        "small errors beside it drawn from the seed, and the visit was played up to the "
        "judgement. The faults come from our own simulators: real electrodes will be less kind. "
        "`make tables` computes this anew; a test compares.",
        "",
        "*Beyond U* moves what is read in the process by more than the uncertainty there. "
        "*Between two* is left open between two causes with the measurement that tells. *Then "
        "told* is right after that measurement. *Smaller* ones are no fault of the naming and are "
        "misses all the same.",
        "",
        "| planted | beyond U | named first | between two | wrong or missed | then told | smaller: "
        "named, missed |",
        "|---|---|---|---|---|---|---|",
    ]
    for name, names in found.items():
        n = beyond_of(names)
        lines.append(
            f"| {name} | {n} | {share(names['named'], n)} | {share(names['between two'], n)} | "
            f"{share(names['wrong'] + names['missed'], n)} | {share(names['told'], n)} | "
            f"{names['smaller, named']}, {names['smaller, missed']} |"
        )
    every = sum(beyond_of(n) + n["smaller, named"] + n["smaller, missed"] for n in found.values())
    remedy = sum(n["wrong remedy"] for n in found.values())
    lines += [
        "",
        f"Wrong remedy first: {remedy} of {every} ({share(remedy, every)}).",
        f"False alarms: {wrong} of {good} good loops ({share(wrong, good)}).",
    ]
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    text = as_text(*count())
    TABLE.write_text(text)
    sys.stdout.write(text)
