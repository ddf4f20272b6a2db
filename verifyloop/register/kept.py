"""Tables whose every change is written into the register."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Iterator
from typing import Any, TypeVar

from django.db import models
from django.dispatch import Signal

from calibration.engine.job.sealing import canonical
from verifyloop.register import book
from verifyloop.register.models import Entry
from verifyloop.register.write_lock import writing

#: Sent by a table when rows of it are written into the register.
changed = Signal()
#: Columns that change without anybody changing the record, and secrets.
LEFT_OUT = {"last_login", "sign_count", "last_step", "tries"}
AS_DIGEST = {"password", "secret"}
#: So many rows are compared at once.
AT_ONCE = 200


def row_of(model: type[models.Model], values: dict[str, Any]) -> dict[str, str]:
    """Return the columns of a row as the register keeps them."""
    found = {}
    for field in model._meta.concrete_fields:
        name = field.attname
        if name in LEFT_OUT or name not in values:
            continue
        value = values[name]
        if hasattr(value, "tzinfo") and value.tzinfo is not None:
            text = book.stamp(value)
        else:
            text = canonical(value) if isinstance(value, dict | list) else str(value)
        found[name] = hashlib.sha256(text.encode()).hexdigest() if name in AS_DIGEST else text
    return found


def subject_of(model: type[models.Model], key: object) -> str:
    """Return how the register names a row."""
    return f"{model._meta.label_lower} {key}"


def register(model: type[models.Model], keys: Iterable[Any]) -> None:
    """Write rows as they are now; one that is as it was written last is not written again."""
    every = list(keys)
    for start in range(0, len(every), AT_ONCE):
        found = model._default_manager.filter(pk__in=every[start : start + AT_ONCE])
        rows = {
            subject_of(model, values["id"]): row_of(model, values)
            for values in found.order_by("pk").values()
        }
        written = Entry.objects.filter(subject__in=rows).order_by("pk")
        last = dict(written.values_list("subject", "said"))
        fresh = [(s, row) for s, row in rows.items() if s not in last or json.loads(last[s]) != row]
        book.write_all("row", fresh)
    changed.send(model)


def version_of(row: models.Model) -> str:
    """Return a short mark of a row as it is: another one says that it was changed."""
    values = {f.attname: getattr(row, f.attname) for f in row._meta.concrete_fields}
    said = canonical(row_of(type(row), values))
    return hashlib.sha256(said.encode()).hexdigest()[:16]


M = TypeVar("M", bound=models.Model)


class KeptQuerySet(models.QuerySet[M]):
    """Changes of many rows at once are written as well."""

    def update(self, **values: Any) -> int:
        """Change rows, and write each as it became."""
        with writing():
            keys = list(self.values_list("pk", flat=True))
            count = super().update(**values)
            register(self.model, keys)
        return count

    def bulk_create(self, objs: Iterable[M], *args: Any, **kwargs: Any) -> list[M]:
        """Enter rows, and write each."""
        with writing():
            made = super().bulk_create(objs, *args, **kwargs)
            # They are new: nothing was written of them before.
            rows = self.model._default_manager.filter(pk__in=[one.pk for one in made])
            book.write_all(
                "row",
                (
                    (subject_of(self.model, values["id"]), row_of(self.model, values))
                    for values in rows.order_by("pk").values()
                ),
            )
        return made

    def delete(self) -> tuple[int, dict[str, int]]:
        """Take rows out, and write that they are gone."""
        with writing():
            for key in list(self.values_list("pk", flat=True)):
                book.write("gone", subject_of(self.model, key), {})
            return super().delete()


class Kept(models.Model):
    """A row that a record rests on."""

    objects = KeptQuerySet.as_manager()

    class Meta:
        abstract = True

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Store the row, and write it as it became."""
        with writing():
            super().save(*args, **kwargs)
            register(type(self), [self.pk])

    def delete(self, *args: Any, **kwargs: Any) -> tuple[int, dict[str, int]]:
        """Take the row out, and write that it is gone."""
        with writing():
            book.write("gone", subject_of(type(self), self.pk), {})
            return super().delete(*args, **kwargs)


def kept_models() -> Iterator[type[Kept]]:
    """Yield the tables that are kept, in a fixed order."""
    below = _below(Kept)  # type: ignore[type-abstract]
    yield from sorted(below, key=lambda m: m._meta.label_lower)


def _below(kind: type[Kept]) -> Iterator[type[Kept]]:
    for one in kind.__subclasses__():
        if not one._meta.abstract:
            yield one
        yield from _below(one)
