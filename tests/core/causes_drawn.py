"""Draws the table of all causes for docs/causes.md: ``python -m tests.core.causes_drawn``."""

from __future__ import annotations

import importlib
import sys
from collections.abc import Iterator
from pathlib import Path

from calibration.engine.method.family import FAMILIES
from calibration.runs.cause_rows import KNOWN, ROWS, CauseRow

DOCUMENT = Path(__file__).resolve().parents[2] / "docs/causes.md"
PLANTED = ("", "_gas", "_ph", "_trace", "_mixture", "_gc", "_massflow", "_magmeters", "_belts")
PLANTED += ("_vessels", "_indicators")
HEAD = """# Causes

What is known of every cause that this product names, drawn from the rows of the core
(`python -m tests.core.causes_drawn`). **Needs** is read before a cause can be named or excluded:
without it the cause stays open. **Planted**: a simulated fault of the kind is among those of
`docs/methods/*-faults.md`. Site procedure, manuals and licensed practice come first.
"""
DONE = {"instrument": "", "test": "repeat", "reference": "repeat with another"}


def words_in(value: object) -> Iterator[str]:
    """Yield every text in a table of planted faults."""
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        yield from words_in([*value.keys(), *value.values()])
    elif isinstance(value, (tuple, list, set, frozenset)):
        for one in value:
            yield from words_in(one)


def planted() -> set[str]:
    """Return the causes of which a fault is planted in a simulator, and looked for."""
    modules = (importlib.import_module(f"tests.core.planted{name}") for name in PLANTED)
    said = {word for module in modules for word in words_in(module.FAULTS)}
    return {id for id in KNOWN if id in said}


def lines(title: str, rows: dict[str, CauseRow], there: set[str]) -> list[str]:
    """Return the table of some causes."""
    head = "| cause | needs | shows | excluded by | looks alike | done | | planted |"
    found = [f"## {title}", "", head, "|" + " --- |" * 8]
    for id, row in rows.items():
        alike = ", ".join(KNOWN[other].label for other in row.alike)
        after = "set" if row.sets else DONE[row.lies_in]
        cells = (row.label, row.needs, row.looks, row.excluded, alike, row.remedy, after)
        found.append(f"| {' | '.join(cells)} | {'yes' if id in there else 'no'} |")
    sources = dict.fromkeys(row.source for row in rows.values())
    return [*found, "", f"Source: {'; '.join(sources)}.", ""]


def document() -> str:
    """Return the document."""
    there, found = planted(), [HEAD]
    tables = {"All instruments with an output": ROWS}
    tables |= {f.title: f.causes for f in FAMILIES.values() if f.causes}
    for title, rows in tables.items():
        found += lines(title, rows, there)
    return "\n".join(found)


if __name__ == "__main__":
    DOCUMENT.write_text(document())
    sys.stdout.write(f"{len(KNOWN)} causes, {len(planted())} planted\n")
