"""What a detector's certificate says of its gas, and its history of each event with gas."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from calibration.engine.job.history import in_words, title_of
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.families.gas import events as gas
from calibration.families.gas.exposure import by_gas, exposes, unset
from calibration.families.gas.facts import channels, contents
from calibration.families.gas.gases import SUFFIX, drawn_l, lel_set_of
from calibration.families.gas.ledger import gas_of
from calibration.families.gas.view import gas_lines
from calibration.gas.cylinder import in_words as in_words_of
from calibration.gas.cylinder import table_of
from calibration.kernel.numbers import exact
from calibration.kernel.rounding import as_typed, show

#: What certificates of other instruments say of gas: the published format promises it.
NO_SECTIONS: dict[str, Any] = {
    "gas": {"lel_table": "", "answers": [], "drawn": [], "set": [], "forced": []}
}


def _was_forced(ledger: Ledger, step: str, agreed: int) -> bool:
    """Tell whether a step was set on what was agreed to: not where it was left, or put right."""
    sets = [m.event.seq for m in gas_of(ledger).moves if m.event.content.step == step]
    right = [event.seq for _, event in ledger.repaired]
    return any(agreed < at and not any(agreed < between < at for between in right) for at in sets)


def sections(job: Reads) -> dict[str, Any]:
    """Return what a detector was given and what it answered; all that was forced is said."""
    ledger, part = job.ledger, gas_of(job.ledger)
    drawn: dict[str, dict[str, Any]] = {}
    with exact():
        lines = gas_lines(job)
        for flow in part.flows:
            asset = flow.asset
            inside = contents(asset) if asset is not None else None
            if flow.off is not None and asset is not None and inside is not None:
                line = drawn.setdefault(
                    asset.asset,
                    {
                        "cylinder": asset.asset,
                        "contents": in_words_of(inside, lel_set_of(job.settings)),
                        "from": flow.on.at,
                        "litres": Decimal(0),
                    },
                )
                line["litres"] += drawn_l(flow, flow.off.when)
    return {
        "gas": {
            "lel_table": table_of(lel_set_of(job.settings))
            if any(c.unit == "%LEL" for c in channels(ledger.facts))
            else "",
            "answers": [
                {
                    "run": line.run,
                    "channel": line.channel,
                    "gas": line.gas,
                    "reading": line.reading,
                    "outcome": line.label,
                    "response": line.response,
                    "of_new": line.of_new,
                    "t90": line.t90,
                }
                for line in lines
            ],
            "drawn": [{**line, "litres": show(line["litres"], 2)} for line in drawn.values()],
            "set": [
                in_words(ledger, event)
                for event in {move.event.id: move.event for move in part.moves}.values()
            ],
            "forced": [
                in_words(ledger, event)
                for step, (_, event) in part.agreed.items()
                if not by_gas(ledger) or _was_forced(ledger, step, event.seq)
            ],
        },
        **_as_it_was(job),
    }


def _as_it_was(job: Reads) -> dict[str, Any]:
    """Return what a gas would have read, had nothing been set in it before; nothing where so.

    By that it is judged as found: a zero or span that was set in clean air first hides that much.
    """
    rows = []
    for n, c in enumerate(channels(job.ledger.facts)):
        name = f"as_found{SUFFIX[n]}"
        for taken in job.ledger.readings[name].values() if exposes(job.ledger) else ():
            read = taken.content.reading
            was = unset(job.ledger, n, read, taken.event.seq)
            if was != read:
                rows.append([f"{c.label}, {c.unit}", as_typed(read), show(was, 2)])
    if not rows:
        return {}
    table = {
        "title": "As found, had nothing been set in clean air before",
        "columns": ["Gas", "Read in its gas", "Counts as"],
        "rows": rows,
        "lines": ["As found is judged by what it counts as."],
    }
    return {"tables": [table]}


def opened_in_words(ledger: Ledger, c: gas.GasOn) -> str:
    """Return the opening of a cylinder as a sentence."""
    asset = next((f.asset for f in gas_of(ledger).flows if f.content is c), None)
    name = asset.asset if asset else c.role
    return f"Gas on: {name} at {as_typed(c.flow)} L/min"


def set_in_words(ledger: Ledger, c: gas.GasSet) -> str:
    """Return the setting of zero or span as a sentence."""
    step = ledger.method.step(c.step)
    unit = channels(ledger.facts)[step.channel].unit if step else ""
    forced = ", forced" if c.step in gas_of(ledger).agreed else ""
    title = title_of(ledger.method, c.step)
    before = f"{as_typed(c.before)} to " if c.before is not None else ""
    return f"{title}: {before}{as_typed(c.after)} {unit}{forced}"


def agreed_in_words(ledger: Ledger, c: gas.Agreed) -> str:
    """Return why something was forced, and who or what agreed, as a sentence."""
    by = f"agreed by {c.name}"
    if c.way == "other_cylinder":
        name = c.asset.asset if c.asset else "another cylinder"
        shown = as_typed(c.reading) if c.reading is not None else "?"
        by = f"confirmed with {name}, which shows {shown}"
    if c.way == "checks":
        by = (
            f"alone, by checks: the label says {c.label}, good until {c.until}, {c.flow_seen} seen "
            "at the regulator"
        )
    return f"{title_of(ledger.method, c.step)}: FORCED against a refusal ({c.reason}), {by}"
