from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("work", "0003_gas")]
    operations = [migrations.RenameField("job", "responses", "learnt")]
