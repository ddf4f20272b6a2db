"""Every table there is: each column changed, a row taken out, one put in, past the product.

It is found, or the table is on the list of what is no evidence, which docs/safety.md gives.
"""

from __future__ import annotations

import itertools
import uuid
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal

from django.apps import apps
from django.db import models, transaction

from tests.server.base import ApiCase
from verifyloop.records.verify.tables import changed_in
from verifyloop.register.kept import LEFT_OUT, kept_models

#: Checked in ways of their own: `test_tampering`, `test_set_back`, and below.
OTHERWISE = {
    "work_job", "work_event", "register_entry", "register_head",
    "kit_use", "kit_hold", "kit_gasuse", "kit_gashold",
    "accounts_user_groups", "work_devicefile",
}  # fmt: skip
#: What no record rests on. docs/safety.md says the same in words.
NO_EVIDENCE = {
    "django_session", "django_admin_log", "django_content_type", "auth_permission", "auth_group",
    "auth_group_permissions", "accounts_user_user_permissions",
    "axes_accessattempt", "axes_accessattemptexpiration", "axes_accessfailurelog",
    "axes_accesslog", "django_tasks_database_dbtaskresult",
    "accounts_knowndevice", "accounts_view", "lists_brought", "rigs_rig",
    "work_presence", "work_round", "work_roundplace",
}  # fmt: skip

COUNT = itertools.count(10)
#: A value that no row has yet, by the kind of the column.
NEW = {
    models.DateTimeField: lambda n: datetime(2020, 1, 1, tzinfo=UTC) + timedelta(days=n),
    models.DateField: lambda n: date(2020, 1, 1) + timedelta(days=n),
    models.DecimalField: lambda n: Decimal(n),
    models.FloatField: float,
    models.IntegerField: int,
    models.JSONField: lambda n: {"x": str(n)},
    models.UUIDField: lambda n: uuid.UUID(int=n),
    models.BinaryField: lambda n: str(n).encode(),
    models.CharField: str,
    models.TextField: str,
}


def new(field, now=None):
    """Return a value for a column that no row has yet."""
    if isinstance(field, models.ForeignKey):
        return made(field.related_model).pk
    if isinstance(field, models.BooleanField):
        return not now
    value = next(NEW[k] for k in NEW if isinstance(field, k))(next(COUNT))
    return value[-field.max_length :] if isinstance(value, str) and field.max_length else value


def unsaved(model):
    """Return a row that is in no table yet."""
    asked = [f for f in model._meta.concrete_fields if not f.primary_key and not f.null]
    return model(**{f.attname: new(f) for f in asked})


def made(model):
    """Return a new row of a table."""
    one = unsaved(model)
    one.save()
    return one


class EveryTable(ApiCase):
    def tables(self):
        return {m._meta.db_table: m for m in apps.get_models(include_auto_created=True)}

    def undone(self, model, change):
        """Change something, and return what is found; then undo it."""
        with transaction.atomic():
            change()
            found = list(changed_in(model))
            transaction.set_rollback(True)
        return [f"{one.where}: {one.what}" for one in found]

    def test_each_table_is_checked_or_no_evidence(self):
        kept = {m._meta.db_table for m in kept_models()}
        self.assertEqual(set(self.tables()) - kept - OTHERWISE, NO_EVIDENCE)
        self.assertFalse(kept & NO_EVIDENCE)

    def test_each_column_a_row_gone_and_a_row_put_in_are_found(self):
        tried = 0
        for model in kept_models():
            first = made(model)
            plain = models.QuerySet(model).filter(pk=first.pk)
            self.assertEqual(self.undone(model, lambda: None), [])
            for field in model._meta.concrete_fields:
                if field.primary_key or field.attname in LEFT_OUT:
                    continue
                with self.subTest(table=model._meta.db_table, column=field.column):
                    value = new(field, getattr(first, field.attname))
                    said = self.undone(
                        model, lambda f=field, v=value, p=plain: p.update(**{f.attname: v})
                    )
                    self.assertRegex(said[0], f"past the product: .*{field.attname}")
                    tried += 1
            with self.subTest(table=model._meta.db_table, change="gone"):
                said = self.undone(model, lambda p=plain, m=model: p._raw_delete("default"))
                self.assertIn("the row is gone", said[0])
                tried += 1
            with self.subTest(table=model._meta.db_table, change="put in"):
                said = self.undone(model, lambda p=plain, m=model: p.bulk_create([unsaved(m)]))
                self.assertIn("knows of no such row", said[0])
                tried += 1
        self.assertGreater(tried, 250)
