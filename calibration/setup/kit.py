"""The forms of what is in the kit: references by what they measure, and cylinders."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from typing import Any

from calibration.decisions.reference import Spec, limit_of
from calibration.engine.method.family import FAMILIES
from calibration.gas.cylinder import Part
from calibration.gas.mixture import Balance
from calibration.kernel.codec import about, decode
from calibration.kernel.errors import InputError
from calibration.kernel.present import Entry, entries
from calibration.kernel.units import known_unit
from calibration.setup.checking import every_wrong, filled

#: References that all families share: what one is called, and the unit that it begins with.
SHARED = {
    "pressure": ("Pressure reference", "kPa"),
    "temperature": ("Reference thermometer", "°C"),
    "current": ("Meter for the loop current", "mA"),
    "voltage": ("Meter for voltage", "mV"),
    "resistance": ("Meter for resistance", "Ω"),
    "sensor_signal": ("Calibrator that stands for a sensor", "°C"),
    "heat_source": ("Bath or dry block", "°C"),
    "mass": ("Set of weights in gram", "g"),
    "level_glass": ("Gauge glass", "%"),
}
#: Gas for detectors: a cylinder with a pressure that is read.
CYLINDER = "gas"
ASSET, TEXT = 40, 120
#: What must be said of a cylinder.
CONTENTS = ("balance", "uncertainty_percent")


@dataclass(frozen=True, kw_only=True)
class Certified:
    """One value of a calibration certificate."""

    at: Decimal = about("true value", unit="reference unit")
    shown: Decimal = about("what it showed there", unit="reference unit")
    uncertainty: Decimal = about("expanded uncertainty", unit="reference unit")
    k: Decimal = about("coverage factor", default=Decimal(2))


@dataclass(frozen=True, kw_only=True)
class ReferenceForm:
    """A reference as its certificate says."""

    asset: str = about("number in the kit")
    description: str = about("what it is")
    serial: str = about("serial number")
    unit: str = about("its unit")
    spec: Spec = about("its accuracy, as certificate or maker say")
    certificate: str = about("number of its certificate")
    issued_by: str = about("laboratory that issued it", default="")
    calibrated_on: str = about("date of the certificate, year-month-day")
    due_on: str = about("may be used until, year-month-day")
    drift_per_year: Decimal | None = about(
        "drift in a year, from one certificate to the next", unit="reference unit", default=None
    )
    certified: tuple[Certified, ...] = about("values of its certificate", default=())
    amount: Decimal | None = about("how much it held when it was opened", default=None)


@dataclass(frozen=True, kw_only=True)
class CylinderForm:
    """A cylinder of calibration gas as its label says."""

    asset: str = about("number in the kit")
    description: str = about("what it is")
    parts: tuple[Part, ...] = about("gases in it", default=())
    pure: bool = about("nothing else in it: clean air, or pure nitrogen", default=False)
    balance: Balance = about("the rest", default="air")
    uncertainty_percent: Decimal = about("expanded uncertainty", unit="%", default=Decimal(2))
    lot: str = about("lot", default="")
    certificate: str = about("number of its certificate")
    issued_by: str = about("laboratory that issued it", default="")
    filled_on: str = about("filled on, year-month-day")
    expires_on: str = about("may be used until, year-month-day")
    water_l: Decimal = about("volume of the cylinder", unit="L", fixed_unit=True)
    pressure_bar: Decimal = about("gauge pressure as read now", unit="bar", fixed_unit=True)
    minimum_bar: Decimal = about("not used below", unit="bar", default=Decimal(5), fixed_unit=True)
    flow_l_per_min: Decimal | None = about(
        "flow of its regulator; empty for a valve that can be set",
        unit="L/min",
        default=None,
        fixed_unit=True,
    )
    demand: bool = about("demand-flow regulator", default=False)
    humidifier: bool = about("with a humidifier", default=False)


@dataclass(frozen=True, kw_only=True)
class KitKind:
    """A kind of thing in the kit."""

    id: str
    title: str
    unit: str
    form: type
    #: what is particular to it, as its family reads it
    facts: type | None = None
    #: in which unit it is used up; empty where it is not
    used_in: str = ""
    #: what must be said, of the form and of its own facts: no default stands for a fact
    asked: tuple[str, ...] = ()
    own_asked: tuple[str, ...] = ()
    check: Callable[[Any], None] = lambda own: None


def kit_kinds() -> tuple[KitKind, ...]:
    """Return every kind of thing that may be in the kit."""
    found = {
        id: KitKind(id=id, title=title, unit=unit, form=ReferenceForm)
        for id, (title, unit) in SHARED.items()
    }
    for family in FAMILIES.values():
        for id, kind in family.assets.items():
            form = CylinderForm if id == CYLINDER else ReferenceForm
            found[id] = KitKind(
                id=id,
                title=kind.title,
                unit=kind.measures,
                form=form,
                facts=kind.facts,
                used_in=kind.unit if form is ReferenceForm else "",
                asked=CONTENTS if form is CylinderForm else (),
                own_asked=kind.asked,
                check=kind.check,
            )
    return tuple(found.values())


def kit_kind(id: str) -> KitKind:
    """Return one kind.

    Raises
    ------
    InputError
        ``kind.unknown``.
    """
    found = next((k for k in kit_kinds() if k.id == id), None)
    if found is None:
        raise InputError(
            "kind.unknown", "kind", f"There is no kind '{id[:40]}'.", "Choose one of the list."
        )
    return found


def kit_form(kind: KitKind) -> tuple[tuple[str, str, tuple[Entry, ...]], ...]:
    """Return the form of a kind: name, title and entries of each section."""
    known = entries(kind.form)
    if not kind.used_in:
        known = tuple(e for e in known if e.name != "amount")
    known = tuple(_asked(e, kind.asked) for e in known)
    known = tuple(sorted(known, key=lambda e: e.kind in ("group", "rows")))
    own = entries(kind.facts) if kind.facts is not None else ()
    own = tuple(_asked(e, kind.own_asked) for e in own)
    sections = [("what", "What it is, and its certificate", known)]
    if own:
        sections.append(("own", "Its own facts", own))
    return tuple(sections)


def _asked(entry: Entry, asked: tuple[str, ...]) -> Entry:
    """Return an entry that must be said: nothing is filled in for the person."""
    return replace(entry, required=True, default="") if entry.name in asked else entry


def wrong_kit(record: Mapping[str, Any], kind: KitKind) -> list[InputError]:
    """Return everything that is wrong with a thing of the kit, each beside its field.

    Returns
    -------
    list of InputError
        ``field.missing``, ``field.unknown``, ``text.too_long``; where every entry is right by
        itself ``day.wrong``, ``day.order``, ``number.positive``, ``accuracy.missing``,
        ``accuracy.contradicted``.
    """
    plain = {k: v for k, v in record.items() if k != "own"}
    found = every_wrong(kind.form, plain)
    own = record.get("own") or {}
    if kind.facts is not None:
        found += every_wrong(kind.facts, own, "own.")
    elif filled(own):
        found.append(InputError("field.unknown", "own", "It has no facts of its own.", ""))
    found += [_missing(n) for n in kind.asked if n not in filled(plain)]
    found += [_missing(f"own.{n}") for n in kind.own_asked if n not in filled(own)]
    for name in ("asset", "description", "serial", "certificate", "issued_by", "lot"):
        most = ASSET if name in ("asset", "lot") else 60 if name != "description" else TEXT
        if len(str(plain.get(name) or "")) > most:
            found.append(
                InputError("text.too_long", name, "This is too long.", f"Use at most {most}.")
            )
    return found or _together(filled(plain), filled(own), kind)


def _missing(field: str) -> InputError:
    return InputError("field.missing", field, "This is missing.", "Say it: nothing is assumed.")


def _contents(plain: Mapping[str, Any]) -> list[InputError]:
    """Return what is wrong with what a cylinder is said to hold; silence says nothing."""
    pure = str(plain.get("pure") or "").lower() in ("true", "yes", "1")
    if pure == bool(plain.get("parts")):
        said = (
            "Gases are listed, and it is said to be pure."
            if pure
            else "Nothing says what it holds."
        )
        remedy = "List its gases; or say that it is pure: clean air, or nitrogen."
        return [InputError("contents.missing", "parts", said, remedy)]
    return []


def _together(plain: Mapping[str, Any], own: Mapping[str, Any], kind: KitKind) -> list[InputError]:
    found: list[InputError] = []
    days: dict[str, date] = {}
    for name in ("calibrated_on", "due_on", "filled_on", "expires_on"):
        if name in plain:
            try:
                days[name] = date.fromisoformat(str(plain[name]))
            except ValueError:
                found.append(
                    InputError("day.wrong", name, "That is no day.", "Write it as year-month-day.")
                )
    for first, last in (("calibrated_on", "due_on"), ("filled_on", "expires_on")):
        if first in days and last in days and days[first] >= days[last]:
            found.append(
                InputError("day.order", last, "It ends before it begins.", "Check both days.")
            )
    if kind.form is CylinderForm:
        found += _contents(plain)
    elif "unit" in plain:
        try:
            known_unit(str(plain["unit"]), "unit")
        except InputError as wrong:
            found.append(wrong)
    for cls, said, prefix in ((kind.form, plain, ""), (kind.facts, own, "own")):
        if cls is None:
            continue
        try:
            read: Any = decode(cls, said)
            if cls is kind.facts:
                kind.check(read)
        except InputError as wrong:
            found.append(wrong.within(prefix) if prefix else wrong)
    for name in ("water_l", "pressure_bar", "amount"):
        if name in plain and not found and Decimal(str(plain[name])) <= 0:
            found.append(InputError("number.positive", name, "It is not above zero.", "Check it."))
    spec = plain.get("spec") or {}
    if (
        not found
        and spec
        and not any(
            Decimal(str(spec.get(n) or 0)) > 0
            for n in ("percent_of_reading", "percent_of_full_scale", "absolute")
        )
    ):
        found.append(
            InputError(
                "accuracy.missing",
                "spec.percent_of_reading",
                "No accuracy is given.",
                "Give one of its terms, as the certificate says.",
            )
        )
    if not found and plain.get("certified"):
        found += _contradicted(decode(ReferenceForm, plain))
    return found


def _contradicted(form: ReferenceForm) -> list[InputError]:
    """Return each value of a certificate that is beyond the accuracy that jobs count on.

    Its deviation and the expanded uncertainty of it together lie within the accuracy, as
    JCGM 106:2012 wants of a value that is to be relied on.
    """
    found = []
    for n, one in enumerate(form.certified):
        where = f"certified.{n}"
        if one.uncertainty <= 0 or one.k <= 0:
            name = "uncertainty" if one.uncertainty <= 0 else "k"
            said = "It is not above zero."
            found.append(InputError("number.positive", f"{where}.{name}", said, "Check it."))
            continue
        most = abs(one.shown - one.at) + one.uncertainty
        allowed = limit_of(form.spec, one.at) + form.spec.resolution
        if most > allowed:
            said = f"At {one.at} its certificate says up to {most}; its accuracy allows {allowed}."
            remedy = "Give an accuracy that covers its certificate, or withdraw it."
            found.append(InputError("accuracy.contradicted", f"{where}.shown", said, remedy))
    return found
