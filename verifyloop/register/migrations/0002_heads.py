from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("register", "0001_register")]

    operations = [
        migrations.CreateModel(
            name="Head",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("subject", models.CharField(max_length=120, unique=True)),
                ("seq", models.PositiveIntegerField()),
                ("head", models.CharField(max_length=80)),
                ("seal", models.CharField(max_length=80)),
            ],
        ),
    ]
