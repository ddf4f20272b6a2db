"""A rig applies any value, not only a pressure: the command kept its old name in stored rigs."""

from django.db import migrations


def rename(apps, schema_editor):
    for rig in apps.get_model("rigs", "Rig").objects.all():
        rig.commands = [
            {**c, "kind": "apply"} if c.get("kind") == "pressure" else c for c in rig.commands
        ]
        rig.save(update_fields=["commands"])


class Migration(migrations.Migration):
    dependencies = [("rigs", "0001_initial")]
    operations = [migrations.RunPython(rename, migrations.RunPython.noop)]
