"""Every gas of an exposed detector on one line: in air, in its gas, as found and as left."""

from __future__ import annotations

from calibration.decisions.tolerance import limit_at
from calibration.engine.job.reads import Reads
from calibration.engine.view.blocks import Block, Mark
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import SUFFIX, gases_of, shows
from calibration.families.gas.ledger import gas_of
from calibration.gas.cylinder import Purpose
from calibration.kernel.rounding import as_typed, show, trimmed

HEADS = ("Gas", "Zero, found", "Zeroed", "Gas on", "Found", "Left", "Limit")


def every_gas(job: Reads) -> tuple[Block, ...]:
    """Return one table with a line for each gas; none before the first is read."""
    gases = range(len(channels(job.ledger.facts)))
    if not any(_zero_found(job, n) or _read(job, f"as_found{SUFFIX[n]}", "span") for n in gases):
        return ()
    return (
        Block(
            kind="table",
            title="Every gas",
            columns=HEADS,
            cells=tuple(_line(job, n) for n in gases),
            marks=tuple(_mark(job, n) for n in gases),
        ),
    )


def _line(job: Reads, channel: int) -> tuple[str, ...]:
    c = channels(job.ledger.facts)[channel]
    found, left = f"as_found{SUFFIX[channel]}", f"as_left{SUFFIX[channel]}"
    facts = job.facts_of(found)
    plan = job.plan_of(found)
    applied = plan[_point(job, found, "span")].nominal if plan else None
    limit = "" if applied is None else show(limit_at(facts.transfer, facts.tolerance, applied), 2)
    return (
        f"{c.label}, {c.unit}",
        _zero_found(job, channel),
        _zeroed(job, channel),
        trimmed(applied) if applied is not None else "",
        _read(job, found, "span"),
        _read(job, left, "span"),
        f"±{limit}",
    )


def _point(job: Reads, run: str, gas: Purpose) -> int:
    gases = gases_of(job.settings, job.ledger.method.run(run))
    return gases.index(gas) if gas in gases else 0


def _read(job: Reads, run: str, gas: Purpose) -> str:
    """Return what a run read with a gas, in the unit of the gas; empty where it was not read."""
    taken = job.ledger.readings[run].get(_point(job, run, gas))
    return as_typed(shows(job.facts_of(run), taken.content)) if taken is not None else ""


def _zero_found(job: Reads, channel: int) -> str:
    """Return the zero as found: in zero gas, apart from air, or in air."""
    found = f"as_found{SUFFIX[channel]}"
    in_gas = "zero" in gases_of(job.settings, job.ledger.method.run(found))
    return (
        (_read(job, found, "zero") if in_gas else "")
        or _read(job, f"zero_apart{SUFFIX[channel]}", "zero")
        or _read(job, f"air_found{SUFFIX[channel]}", "air")
    )


def _zeroed(job: Reads, channel: int) -> str:
    """Return what a channel showed when its zero was set last; oxygen, when set in air."""
    oxygen = channels(job.ledger.facts)[channel].gas == "oxygen"
    end = "span" if oxygen else "zero"
    moves = [m for m in gas_of(job.ledger).moves if (m.channel, m.end) == (channel, end)]
    return as_typed(moves[-1].after) if moves else ""


def _mark(job: Reads, channel: int) -> Mark:
    found, left = f"as_found{SUFFIX[channel]}", f"as_left{SUFFIX[channel]}"
    name = left if job.ledger.readings[left] else found
    return job.figures(name).mark if job.ledger.readings[name] else "none"
