from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("plant", "0006_plan")]

    operations = [
        migrations.AddField(
            model_name="instrument",
            name="last_outcome",
            field=models.CharField(blank=True, max_length=10),
        ),
    ]
