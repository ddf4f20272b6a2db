import django.db.models.deletion
from django.db import migrations, models

ID = {"auto_created": True, "primary_key": True, "serialize": False, "verbose_name": "ID"}
MOVED = ("method", "parameters", "next_due", "due_reason")


def to_plans(apps, schema_editor):
    """Method, limits and due date of every instrument become its plan."""
    plan = apps.get_model("plant", "Plan")
    rows = apps.get_model("plant", "Instrument").objects.values("pk", *MOVED)
    plan.objects.bulk_create(plan(instrument_id=r.pop("pk"), **r) for r in rows)


def back(apps, schema_editor):
    instrument = apps.get_model("plant", "Instrument")
    for p in apps.get_model("plant", "Plan").objects.all():
        instrument.objects.filter(pk=p.instrument_id).update(**{n: getattr(p, n) for n in MOVED})


class Migration(migrations.Migration):
    dependencies = [("plant", "0005_own")]
    operations = [
        migrations.CreateModel(
            "Plan",
            [
                ("id", models.BigAutoField(**ID)),
                ("method", models.CharField(max_length=60)),
                ("parameters", models.JSONField(blank=True, default=dict)),
                ("next_due", models.DateField(db_index=True, null=True)),
                ("due_reason", models.CharField(blank=True, max_length=160)),
                (
                    "instrument",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="plan",
                        to="plant.instrument",
                    ),
                ),
            ],
        ),
        migrations.RunPython(to_plans, back),
        *(migrations.RemoveField("instrument", name) for name in MOVED),
    ]
