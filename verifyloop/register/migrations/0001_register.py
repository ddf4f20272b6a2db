from django.db import migrations, models


def first_key(apps, schema_editor):
    """A new database gets the first key of its seals, unless one was put there before."""
    from verifyloop.register import keys

    if not keys.place().exists():
        keys.add_key()


class Migration(migrations.Migration):
    initial = True

    dependencies = []

    operations = [
        migrations.CreateModel(
            name="Entry",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("at", models.DateTimeField()),
                ("kind", models.CharField(max_length=20)),
                ("subject", models.CharField(db_index=True, max_length=120)),
                ("account", models.CharField(blank=True, max_length=150)),
                ("said", models.TextField()),
                ("seal", models.CharField(max_length=80)),
            ],
            options={"verbose_name_plural": "entries"},
        ),
        migrations.RunPython(first_key, migrations.RunPython.noop),
    ]
