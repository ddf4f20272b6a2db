"""A list of instruments of every family, as a plant brings it on its first day."""

from __future__ import annotations

import copy
from typing import Any

from calibration.setup.forms import family_of_method, templates
from tests.server.setting_up import PLATE, SETTINGS
from verifyloop.lists.columns import as_cell, at
from verifyloop.lists.instruments import Instruments
from verifyloop.lists.sheets import write_csv

AREAS = ("Pump house", "Boilers", "Dosing", "Tanks", "Loading")


def record(template: Any, number: int, due: str) -> dict[str, Any]:
    """Return the record of one instrument as its plate and its papers say."""
    found = copy.deepcopy(dict(template.record))
    kind = template.id.replace("_", "-").upper()[:12]
    found |= {
        "tag": f"{kind}-{number:03}",
        "serial": f"SN-{number:05}",
        "description": f"{template.title} {number}"[:120],
        "area": AREAS[number % len(AREAS)],
        "method": template.method,
        "next_due": due,
    }
    if found.get("indicated_upper") == "":
        found["indicated_upper"] = "250"
    family = family_of_method(template.method)
    if family.facts is not None:
        own = found.setdefault("own", {})
        for name in family.facts.__dataclass_fields__:
            if not own.get(name) and name in PLATE:
                own[name] = PLATE[name]
        for line in own.get("lines", []):
            line["reference"] = line["reference"] or "12"
    for setting in found.get("settings", []):
        setting["value"] = setting["value"] or SETTINGS[setting["name"]]
    return found


def first_list(count: int, due: str) -> bytes:
    """Return a CSV of so many instruments, of every kind in turn."""
    known = templates()
    records = [record(known[n % len(known)], n, due) for n in range(count)]
    columns = [c for c in Instruments().columns() if any(at(r, c.name) for r in records)]
    rows = [[as_cell(at(r, c.name), c.entry) for c in columns] for r in records]
    return write_csv([c.name for c in columns], rows)
