"""The lists of the kit: references with what is particular to each kind, and cylinders."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any

from calibration.kernel.errors import InputError
from calibration.kernel.present import Entry, entries
from calibration.setup.kit import (
    CYLINDER,
    CylinderForm,
    KitKind,
    ReferenceForm,
    kit_kind,
    kit_kinds,
    wrong_kit,
)
from verifyloop.accounts.models import User
from verifyloop.kit.models import Cylinder, Reference
from verifyloop.kit.setup import as_stored, changed_thing, kit_record, note_kit
from verifyloop.lists.columns import Column, columns_of
from verifyloop.lists.kinds import Row

STEP = 200


class _Kit(ABC):
    """What lists of the kit share."""

    keys: tuple[str, ...] = ("asset",)
    code = "kit.setup"

    @abstractmethod
    def kind(self, record: Mapping[str, Any]) -> KitKind:
        """Return of which kind a row is."""

    @abstractmethod
    def taken(self) -> set[str]:
        """Return the numbers that the other list has."""

    def judge(self, rows: Sequence[Row], before: Mapping[str, dict[str, Any]]) -> Iterable[int]:
        """Say of each row what is wrong with it."""
        taken = self.taken()
        for done, row in enumerate(rows, 1):
            if row.fate != "unchanged":
                row.wrong += self._wrong(row, before, taken)
            if done % STEP == 0:
                yield done

    def _wrong(
        self, row: Row, before: Mapping[str, dict[str, Any]], taken: set[str]
    ) -> list[InputError]:
        try:
            kind = self.kind(row.record)
        except InputError as wrong:
            return [wrong]
        was = before.get(row.key)
        if was is not None and self.kind(was).id != kind.id:
            return [InputError("kind.fixed", "kind", "It is of another kind.", "Use a new number.")]
        if row.key in taken:
            return [InputError("asset.taken", "asset", f"{row.key} is there already.", "")]
        return wrong_kit({k: v for k, v in row.record.items() if k != "kind"}, kind)

    def store(self, rows: Sequence[Row], actor: User, why: str, now: datetime) -> Iterable[int]:
        """Put in what is new, change the rest."""
        for done, row in enumerate(rows, 1):
            record = {k: v for k, v in row.record.items() if k != "kind"}
            kind = self.kind(row.record)
            model = Cylinder if kind.form is CylinderForm else Reference
            if row.fate == "new":
                model.objects.create(**as_stored(record, kind))
                note_kit(row.key, actor, now, ("record", "", "put into the kit"), why)
            else:
                changed_thing(model.objects.get(asset=row.key), record, actor, why, now)
            if done % STEP == 0:
                yield done


class References(_Kit):
    """References, bottles, weights, traps: everything but cylinders with a pressure."""

    id, title = "references", "References"

    def columns(self) -> list[Column]:
        """Return the columns of all kinds; what is a kind's own begins with own."""
        kinds = [k for k in kit_kinds() if k.form is ReferenceForm]
        kind = Entry(
            name="kind",
            label="Kind",
            kind="choice",
            required=True,
            choices=tuple(k.id for k in kinds),
        )
        own: dict[str, Column] = {}
        for one in kinds:
            if one.facts is not None:
                for column in columns_of(entries(one.facts), "own."):
                    own.setdefault(column.name, column)
        return [Column("kind", "Kind", kind), *columns_of(entries(ReferenceForm)), *own.values()]

    def records(self) -> Iterator[tuple[str, dict[str, Any]]]:
        """Yield every reference."""
        for one in Reference.objects.order_by("asset"):
            yield one.asset, {"kind": one.quantity, **kit_record(one)}

    def kind(self, record: Mapping[str, Any]) -> KitKind:
        """Return the kind that a row names."""
        found = kit_kind(str(record.get("kind") or ""))
        if found.form is not ReferenceForm:
            raise InputError(
                "kind.unknown", "kind", "That belongs into the list of cylinders.", "Move it."
            )
        return found

    def taken(self) -> set[str]:
        """Return the numbers of cylinders."""
        return set(Cylinder.objects.values_list("asset", flat=True))


class Cylinders(_Kit):
    """Cylinders of calibration gas for detectors."""

    id, title = "cylinders", "Cylinders"

    def columns(self) -> list[Column]:
        """Return the columns of a cylinder."""
        return columns_of(entries(CylinderForm))

    def records(self) -> Iterator[tuple[str, dict[str, Any]]]:
        """Yield every cylinder."""
        for one in Cylinder.objects.order_by("asset"):
            yield one.asset, kit_record(one)

    def kind(self, record: Mapping[str, Any]) -> KitKind:
        """Return the one kind that there is."""
        return kit_kind(CYLINDER)

    def taken(self) -> set[str]:
        """Return the numbers of references."""
        return set(Reference.objects.values_list("asset", flat=True))
