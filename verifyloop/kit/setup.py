"""What is in the kit as it is typed: read, checked, stored, withdrawn; every change noted."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import fields
from datetime import date, datetime
from typing import Any

from calibration.decisions.reference import Spec
from calibration.engine.job.sealing import canonical
from calibration.kernel.errors import InputError
from calibration.setup.checking import filled
from calibration.setup.kit import CYLINDER, CylinderForm, KitKind, kit_kind, wrong_kit
from verifyloop import form_values
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.errors import Conflict, NotFound
from verifyloop.kit.models import Cylinder, KitChange, Reference
from verifyloop.register.write_lock import writing

DAYS = ("calibrated_on", "due_on", "filled_on", "expires_on")
YES_NO = ("demand", "humidifier")
NOTED = 120

Thing = Reference | Cylinder


class RefusedKit(InputError):
    """Something that is not stored, with everything that is wrong with it."""

    def __init__(self, wrong: list[InputError]) -> None:
        first = wrong[0]
        super().__init__(first.code, first.field, first.message, first.remedy)
        self.wrong = wrong


def thing_by_asset(asset: str) -> Thing:
    """Return something of the kit by its number.

    Raises
    ------
    NotFound
        ``kit.unknown``.
    """
    found: Thing | None = Reference.objects.filter(asset=asset[:40]).first()
    found = found or Cylinder.objects.filter(asset=asset[:40]).first()
    if found is None:
        raise NotFound("kit.unknown", f"'{asset[:40]}' is not in the kit.", "Look at the list.")
    return found


def kind_of_thing(thing: Thing) -> KitKind:
    """Return of which kind something is."""
    return kit_kind(CYLINDER if isinstance(thing, Cylinder) else thing.quantity)


def kit_record(thing: Thing) -> dict[str, Any]:
    """Return something of the kit as its form shows it."""
    kind = kind_of_thing(thing)
    names = [f.name for f in fields(kind.form)]
    found: dict[str, Any] = {}
    for name in names:
        # That it is pure follows from what it holds; nobody keeps it twice.
        value = not thing.parts if name == "pure" else getattr(thing, name)  # type: ignore[union-attr]
        if value in (None, "") or value == []:
            continue
        found[name] = str(value) if isinstance(value, date) else value
    if isinstance(thing, Reference):
        if thing.amount is not None:
            found["amount"] = f"{thing.amount:g}"
        if thing.own:
            found["own"] = thing.own
    return found


def version_of_thing(thing: Thing) -> str:
    """Return a short mark of something as it is."""
    said = canonical({**kit_record(thing), "withdrawn": thing.withdrawn})
    return hashlib.sha256(said.encode()).hexdigest()[:16]


def wrong_thing(record: Mapping[str, Any], kind: KitKind, asset: str = "") -> list[InputError]:
    """Return everything that is wrong with something, the shelf around it included."""
    found = wrong_kit(record, kind)
    named = str(record.get("asset") or "").strip()
    taken = (
        Reference.objects.filter(asset=named).exists()
        or Cylinder.objects.filter(asset=named).exists()
    )
    if named and named != asset and taken:
        found.append(
            InputError("asset.taken", "asset", f"{named} is there already.", "Numbers are once.")
        )
    return found


def as_stored(record: Mapping[str, Any], kind: KitKind) -> dict[str, Any]:
    plain = filled({k: v for k, v in record.items() if k != "own"})
    if kind.form is CylinderForm:
        plain.pop("pure", None)
        empty: dict[str, Any] = {
            f.name: "" for f in fields(CylinderForm) if f.name in ("lot", "issued_by")
        }
        columns = {**empty, "parts": [], "flow_l_per_min": "", **plain}
        columns |= {name: bool(plain.get(name)) for name in YES_NO}
        for name in ("uncertainty_percent", "water_l", "pressure_bar", "minimum_bar"):
            if name in columns:
                columns[name] = str(columns[name])
    else:
        amount = plain.pop("amount", None)
        known = {f.name for f in fields(Spec)}
        spec = {k: str(v) for k, v in filled(plain.pop("spec")).items() if k in known}
        empty = {"issued_by": "", "drift_per_year": "", "certified": []}
        columns = {**empty, **plain, "spec": spec, "quantity": kind.id}
        columns["drift_per_year"] = str(columns["drift_per_year"])
        columns["certified"] = [
            {k: str(v) for k, v in filled(one).items()} for one in columns["certified"]
        ]
        columns |= {"own": filled(record.get("own") or {})}
        columns["amount"] = float(str(amount)) if amount is not None else None
    return {k: date.fromisoformat(v) if k in DAYS else v for k, v in columns.items()}


@writing()
def add_thing(*, actor: User, kind: KitKind, record: Mapping[str, Any], now: datetime) -> Thing:
    """Put something new into the kit.

    Raises
    ------
    RefusedKit
        with everything that is wrong.
    """
    require(actor, "kit.setup")
    made = put_in(kind, record)
    note_kit(made.asset, actor, now, ("record", "", "put into the kit"), "new in the kit")
    return made


def put_in(kind: KitKind, record: Mapping[str, Any]) -> Thing:
    """Put something into the kit as recorded; nothing is noted."""
    wrong = wrong_thing(record, kind)
    if wrong:
        raise RefusedKit(wrong)
    model = Cylinder if kind.form is CylinderForm else Reference
    return model.objects.create(**as_stored(record, kind))


@writing()
def change_thing(
    *,
    actor: User,
    asset: str,
    record: Mapping[str, Any],
    version: str,
    reason: str,
    now: datetime,
) -> Thing:
    """Change what is on record of something, for example after its calibration.

    Raises
    ------
    Conflict
        ``version.old`` when somebody else changed it since.
    RefusedKit
        with everything that is wrong.
    """
    require(actor, "kit.setup")
    thing = thing_by_asset(asset)
    if version_of_thing(thing) != version:
        raise Conflict(
            "version.old",
            f"Somebody else changed {asset} meanwhile.",
            "Look again; what you typed stays here.",
        )
    return changed_thing(thing, record, actor, form_values.reason(reason), now)


def changed_thing(
    thing: Thing, record: Mapping[str, Any], actor: User, why: str, now: datetime
) -> Thing:
    """Store a changed record and note each field that differs."""
    kind = kind_of_thing(thing)
    wrong = wrong_thing(record, kind, thing.asset)
    if str(record.get("asset") or "") != thing.asset:
        wrong.append(
            InputError(
                "asset.fixed",
                "asset",
                "Its number stays: papers name it.",
                "Put a new one in, and withdraw this one.",
            )
        )
    if wrong:
        raise RefusedKit(wrong)
    before = kit_record(thing)
    for name, value in as_stored(record, kind).items():
        setattr(thing, name, value)
    thing.save()
    thing.refresh_from_db()
    after = kit_record(thing)
    for name in sorted({*before, *after}):
        if before.get(name) != after.get(name):
            said = (name.replace("_", " "), _text(before.get(name)), _text(after.get(name)))
            note_kit(thing.asset, actor, now, said, why)
    return thing


@writing()
def withdraw(
    *, actor: User, asset: str, withdrawn: bool, reason: str, version: str, now: datetime
) -> Thing:
    """Take something out of use, or back into it, with a reason."""
    require(actor, "kit.setup")
    thing = thing_by_asset(asset)
    if version_of_thing(thing) != version:
        raise Conflict("version.old", f"Somebody else changed {asset} meanwhile.", "Look again.")
    why = form_values.text(form_values.reason(reason), "reason", "The reason", 160)
    before = thing.withdrawn
    thing.withdrawn = why if withdrawn else ""
    thing.save(update_fields=["withdrawn"])
    said = ("withdrawn", before or "in use", thing.withdrawn or "in use")
    note_kit(asset, actor, now, said, why)
    return thing


def changes_of(asset: str) -> list[KitChange]:
    """Return the newest changes of something."""
    return list(KitChange.objects.filter(asset=asset).order_by("-at", "-pk")[:20])


def _text(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return value if isinstance(value, str) else "" if value is None else canonical(value)


def note_kit(asset: str, actor: User, now: datetime, said: tuple[str, str, str], why: str) -> None:
    field, before, after = said
    KitChange.objects.create(
        asset=asset,
        at=now,
        by=actor.display_name,
        field=field[:40],
        before=before[:NOTED],
        after=after[:NOTED],
        reason=why,
    )
