"""The list of instruments: every kind in one file, each row by the facts of its family."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import date, datetime
from typing import Any

from django.db import transaction
from django.db.models import ProtectedError

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.method.family import FAMILIES, fitting
from calibration.kernel.codec import decode
from calibration.kernel.errors import InputError
from calibration.kernel.present import Entry
from calibration.setup.checking import flat
from calibration.setup.forms import OWN, family_of_method, sections
from verifyloop.accounts.models import User
from verifyloop.files.models import Attachment
from verifyloop.lists.columns import Column, columns_of
from verifyloop.lists.kinds import Row
from verifyloop.plant import plans
from verifyloop.plant.areas import area_named
from verifyloop.plant.models import Area, Change, Instrument, Plan
from verifyloop.plant.setup import (
    Known,
    as_stored,
    changed,
    facts_alone,
    record_of,
    wrong_record,
)

MORE = Entry(name="more_plans", label="More that is planned", kind="choices", required=False)
#: So many rows at once.
STEP = 200


class Instruments:
    """Instruments with their plans."""

    id, title, code = "instruments", "Instruments", "plant.setup"
    keys: tuple[str, ...] = ("tag",)

    def columns(self) -> list[Column]:
        """Return the columns of all families; what is a family's own begins with own."""
        found: dict[str, Column] = {}
        own: dict[str, Column] = {}
        for family in FAMILIES.values():
            for section in sections(family):
                into, prefix = (own, "own.") if section.id == OWN else (found, "")
                for column in columns_of(section.entries, prefix):
                    into.setdefault(column.name, column)
        plan = Column("more_plans", MORE.label, MORE)
        return [*found.values(), plan, *own.values()]

    def records(self) -> Iterator[tuple[str, dict[str, Any]]]:
        """Yield every instrument."""
        every = Instrument.objects.select_related("area").prefetch_related("plans")
        for instrument in every.order_by("tag").iterator(chunk_size=500):
            yield instrument.tag, _record(instrument)

    def judge(self, rows: Sequence[Row], before: Mapping[str, dict[str, Any]]) -> Iterable[int]:
        """Say of each row what is wrong with it."""
        there = list(Area.objects.values_list("name", flat=True))
        spelled = {name.casefold(): name for name in there}
        areas = set(there)
        for row in rows:
            name = str(row.record.get("area") or "")
            # One spelled otherwise is no new area: it is said how it is spelled here.
            if spelled.setdefault(name.casefold(), name) == name:
                areas.add(name)
        known = Known(frozenset(), frozenset(areas))
        for done, row in enumerate(rows, 1):
            if row.fate != "unchanged":
                row.wrong += self._wrong(row, known, before)
            if done % STEP == 0:
                yield done

    def _wrong(
        self, row: Row, known: Known, before: Mapping[str, dict[str, Any]]
    ) -> list[InputError]:
        method = str(row.record.get("method") or "")
        try:
            family = family_of_method(method)
        except InputError as wrong:
            return [wrong]
        was = before.get(row.key)
        if was is not None and family_of_method(was["method"]).facts is not family.facts:
            return [
                InputError(
                    "kind.fixed", "method", "It is another kind of instrument.", "Use a new tag."
                )
            ]
        plain = {k: v for k, v in row.record.items() if k != "more_plans"}
        found = wrong_record(plain, family, row.key, known)
        return found or _wrong_plans(row.record, was)

    def store(self, rows: Sequence[Row], actor: User, why: str, now: datetime) -> Iterable[int]:
        """Enter new instruments in bulk, and change others one by one."""
        areas = {a.name: a for a in Area.objects.all()}
        for name in dict.fromkeys(str(r.record["area"]) for r in rows):
            if name not in areas:
                areas[name] = area_named(name)
        new = [r for r in rows if r.fate == "new"]
        for start in range(0, len(new), STEP):
            self._enter(new[start : start + STEP], areas, actor, why, now)
            yield min(len(new), start + STEP)
        for done, row in enumerate((r for r in rows if r.fate == "changed"), len(new) + 1):
            self._change(row, actor, why, now)
            if done % STEP == 0:
                yield done

    def take_back(self, why: str) -> tuple[list[str], list[str]]:
        """Take out instruments that a list entered and nobody has used; return these, and the rest.

        Used is one with a job, a result, a file, a note, a rig, or any change since.
        """
        made = Instrument.objects.filter(
            changes__reason=why, changes__field="record", changes__after="set up"
        ).order_by("tag")
        taken, kept = [], []
        for one in made:
            others = one.changes.exclude(reason=why).exists()
            files = Attachment.objects.filter(about="instrument", key=one.tag).exists()
            try:
                if others or files:
                    raise ProtectedError("it was used", set())
                with transaction.atomic():
                    one.changes.all().delete()
                    one.plans.all().delete()
                    Instrument.objects.filter(pk=one.pk).delete()
                taken.append(one.tag)
            except ProtectedError:
                kept.append(one.tag)
        return taken, kept

    def _enter(
        self, rows: Sequence[Row], areas: Mapping[str, Area], actor: User, why: str, now: datetime
    ) -> None:
        made = Instrument.objects.bulk_create(
            Instrument(
                tag=r.key, **_but_tag(as_stored(_alone(r.record), {}, areas[r.record["area"]]))
            )
            for r in rows
        )
        Plan.objects.bulk_create(
            Plan(instrument=one, method=method, next_due=due, due_reason=why[:160])
            for one, row in zip(made, rows, strict=True)
            for method, due in _plans(row.record)
        )
        Change.objects.bulk_create(
            Change(
                instrument=one,
                at=now,
                by=actor.display_name,
                field="record",
                after="set up",
                reason=why,
            )
            for one in made
        )

    def _change(self, row: Row, actor: User, why: str, now: datetime) -> None:
        instrument = Instrument.objects.prefetch_related("plans").get(tag=row.key)
        changed(instrument, _alone(row.record), actor, why, now)
        instrument = Instrument.objects.prefetch_related("plans").get(tag=row.key)
        planned, kept = dict(_plans(row.record)), {p.method: p for p in instrument.plans.all()}
        for method, plan in kept.items():
            if method not in planned:
                plans.dropped(plan, actor=actor, now=now, why=why)
        for method, due in planned.items():
            if method not in kept:
                plans.added(instrument, method, due, actor=actor, now=now, why=why)
            elif kept[method].next_due != due:
                plans.moved(kept[method], due, actor=actor, now=now, why=why)


def _record(instrument: Instrument) -> dict[str, Any]:
    first, *others = instrument.plans.all()
    more = [f"{p.method} {p.next_due or 'open'}" for p in others]
    found = {**record_of(instrument), "method": first.method}
    if first.next_due is not None:
        found["next_due"] = str(first.next_due)
    return {**found, **({"more_plans": more} if more else {})}


def _alone(record: Mapping[str, Any]) -> dict[str, Any]:
    return {k: v for k, v in record.items() if k not in ("more_plans", "method", "next_due")}


def _but_tag(columns: dict[str, Any]) -> dict[str, Any]:
    return {k: v for k, v in columns.items() if k != "tag"}


def _plans(record: Mapping[str, Any]) -> list[tuple[str, date | None]]:
    """Return what is planned, each with its day."""
    due = record.get("next_due")
    found: list[tuple[str, date | None]] = [
        (str(record["method"]), date.fromisoformat(str(due)) if due else None)
    ]
    for said in record.get("more_plans") or ():
        method, _, day = str(said).partition(" ")
        found.append((method, None if day == "open" else date.fromisoformat(day)))
    return found


def _wrong_plans(record: Mapping[str, Any], was: Mapping[str, Any] | None) -> list[InputError]:
    """Return what is wrong with the plans; a day that is over is due at once, and right."""
    try:
        planned = _plans(record)
    except ValueError:
        return [
            InputError(
                "day.wrong",
                "next_due",
                "A day cannot be read.",
                "Write it as year-month-day; more plans as: method day; method day.",
            )
        ]
    offered = [m for m, _ in fitting(decode(InstrumentFacts, flat(facts_alone(_alone(record)))))]
    kept = {m for m, _ in _plans(was)} if was is not None else set()
    for method, _ in planned:
        if method not in offered and method not in kept:
            named = ", ".join(offered) or "none: look at units and settings"
            said = f"'{method[:40]}' does not fit what is on record."
            return [InputError("method.does_not_fit", "method", said, f"What fits: {named}.")]
    return []
