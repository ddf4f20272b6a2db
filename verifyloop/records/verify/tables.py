"""Plan, rules, kit, people: every row is as the register saw it last."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from typing import Any

from django.db import models

from verifyloop.accounts.models import User
from verifyloop.kit.models import GasHold, GasUse, Hold, Use
from verifyloop.records.verify.finding import Finding
from verifyloop.register.kept import Kept, kept_models, row_of, subject_of
from verifyloop.register.models import Entry
from verifyloop.work.models import Job


def changed_rows() -> Iterator[Finding]:
    """Yield the first row of each table that was changed, put in or taken out past the product."""
    for model in kept_models():
        for finding in changed_in(model):
            yield finding
            break


def groups_differ() -> Iterator[Finding]:
    """Yield people whose groups are not that of their role alone: groups follow roles."""
    for user in User.objects.order_by("pk").prefetch_related("groups"):
        groups = sorted(group.name for group in user.groups.all())
        if groups not in ([user.role], []):
            said = ", ".join(groups)
            yield Finding("row", f"user {user.username}", f"of role {user.role}, in groups {said}")


def uses_of_no_job() -> Iterator[Finding]:
    """Yield what is booked or set aside in the kit for a job that there is not."""
    for model in (Use, Hold, GasUse, GasHold):
        numbers = model.objects.values_list("job", flat=True).order_by("job").distinct()
        there = set(Job.objects.filter(number__in=numbers).values_list("number", flat=True))
        for number in numbers:
            if number not in there:
                name = model._meta.verbose_name
                yield Finding("use", number or "no job", f"{name} of a job that there is not")


def changed_in(model: type[Kept]) -> Iterator[Finding]:
    """Yield every row of a table that is not as the register saw it last."""
    known = _last(model)
    rows: Iterable[Any] = model._base_manager.order_by("pk").values()
    for values in rows:
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
