"""Plan, rules, kit, people: every row is as the register saw it last."""

from __future__ import annotations

import json
from collections.abc import Iterator

from django.db import models

from verifyloop.records.verify.finding import Finding
from verifyloop.register.kept import Kept, kept_models, row_of, subject_of
from verifyloop.register.models import Entry


def changed_rows() -> Iterator[Finding]:
    """Yield the first row of each table that was changed, put in or taken out past the product."""
    for model in kept_models():
        for finding in _of(model):
            yield finding
            break


def _of(model: type[Kept]) -> Iterator[Finding]:
    known = _last(model)
    for values in model._base_manager.order_by("pk").values():
        subject = subject_of(model, values["id"])
        said = known.pop(subject, None)
        name = str(model._base_manager.get(pk=values["id"]))
        where = f"{model._meta.verbose_name} {name}"
        if said is None:
            yield Finding("row", where, "the register knows of no such row")
            continue
        row = row_of(model, values)
        wrong = [n for n, text in row.items() if text != said.get(n, _default(model, n))]
        if wrong:
            yield Finding("row", where, f"changed past the product: {', '.join(wrong)}")
    for subject in known:
        yield Finding("row", subject, "the row is gone; the register knows of it")


def _last(model: type[Kept]) -> dict[str, dict[str, str]]:
    """Return what the register saw last of each row that should be there."""
    found: dict[str, dict[str, str]] = {}
    lines = Entry.objects.filter(subject__startswith=f"{model._meta.label_lower} ")
    for kind, subject, said in lines.order_by("pk").values_list("kind", "subject", "said"):
        if kind == "gone":
            found.pop(subject, None)
        else:
            found[subject] = json.loads(said)
    return found


def _default(model: type[Kept], name: str) -> str:
    """Return what a column has that came after the register saw the row."""
    field = next(f for f in model._meta.concrete_fields if f.attname == name)
    value = field.get_default() if isinstance(field, models.Field) else None
    return row_of(model, {name: value})[name]
