from django.db import migrations, models


def to_own(apps, schema_editor):
    """What was particular to detectors goes into the column that each family reads its own way."""
    for i in apps.get_model("plant", "Instrument").objects.exclude(channels=[]):
        i.own = {"channels": i.channels, "inhibit_ma": i.inhibit_ma, "cover_shut": i.cover_shut}
        i.save(update_fields=["own"])


def back(apps, schema_editor):
    for i in apps.get_model("plant", "Instrument").objects.exclude(own={}):
        i.channels, i.inhibit_ma = i.own["channels"], i.own["inhibit_ma"]
        i.cover_shut = i.own["cover_shut"]
        i.save(update_fields=["channels", "inhibit_ma", "cover_shut"])


class Migration(migrations.Migration):
    dependencies = [("plant", "0004_gas")]
    operations = [
        migrations.AddField("instrument", "own", models.JSONField(blank=True, default=dict)),
        migrations.RunPython(to_own, back),
        migrations.RemoveField("instrument", "channels"),
        migrations.RemoveField("instrument", "inhibit_ma"),
        migrations.RemoveField("instrument", "cover_shut"),
    ]
