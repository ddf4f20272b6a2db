"""The form of an instrument, drawn from its facts and from those of its family."""

from __future__ import annotations

from dataclasses import dataclass, replace

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.method.family import FAMILIES, Family, family_of, newest
from calibration.engine.method.template import Template
from calibration.kernel.errors import InputError
from calibration.kernel.present import Entry, entries

#: Names of the facts by section; what a family adds has a section of its own.
SECTIONS = (
    ("what", "What it is", ("tag", "serial", "maker", "model", "description", "area", "loop_role")),
    (
        "range",
        "Range and output",
        (
            "input_unit",
            "input_lower",
            "input_upper",
            "output_unit",
            "output_lower",
            "output_upper",
            "characteristic",
            "smart",
            "indicated",
            "indicated_unit",
            "indicated_lower",
            "indicated_upper",
            "indicated_characteristic",
            "sensor",
            "wires",
            "junction_c",
        ),
    ),
    ("tolerance", "Tolerance", ("tolerance", "tolerance_source")),
)
OWN = "own"
SETTINGS = ("settings", "Settings on record", ("settings",))
PLAN = Entry(name="method", label="Method", kind="choice", required=True)
DUE = Entry(name="next_due", label="First due, year-month-day", kind="text", required=True)
CAUTION = Entry(name="caution", label="What can hurt somebody there", kind="text", required=False)


@dataclass(frozen=True, kw_only=True)
class Section:
    """A part of the form."""

    id: str
    title: str
    entries: tuple[Entry, ...]


def family_of_method(method: str) -> Family:
    """Return the family of a method.

    Raises
    ------
    InputError
        ``method.unknown``.
    """
    return family_of(newest(method))


def sections(family: Family) -> tuple[Section, ...]:
    """Return the form of an instrument of a family, section by section."""
    known = {e.name: e for e in entries(InstrumentFacts)}
    made = [
        Section(id=id, title=title, entries=tuple(known[n] for n in names))
        for id, title, names in (*SECTIONS, SETTINGS)
    ]
    if family.facts is not None:
        own = Section(id=OWN, title="Its own facts", entries=entries(family.facts))
        made.insert(3, own)
    planned = Section(id="plan", title="Method and when due", entries=(PLAN, DUE))
    return (*made, planned, Section(id="caution", title="Caution", entries=(CAUTION,)))


def templates() -> tuple[Template, ...]:
    """Return what new instruments may begin with, in the order of their families."""
    return tuple(t for family in FAMILIES.values() for t in family.templates)


def template_by_id(id: str, units: dict[str, str]) -> Template:
    """Return one template, in the units that the site prefers.

    Raises
    ------
    InputError
        ``template.unknown``.
    """
    found = next((t for t in templates() if t.id == id), None)
    if found is None:
        raise InputError(
            "template.unknown",
            "template",
            f"There is no template '{id[:40]}'.",
            "Choose one of the list.",
        )
    record = dict(found.record)
    for name, quantity in found.prefers.items():
        wanted = units.get(quantity)
        if wanted and wanted != record[name]:
            # A range in another unit is typed as the plate says it.
            same = record["output_unit"] == record[name]
            record |= {name: wanted, "input_lower": "0", "input_upper": ""}
            record |= {"output_unit": wanted, "output_upper": ""} if same else {}
    return replace(found, record=record)
