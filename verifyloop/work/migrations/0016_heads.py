from django.db import migrations


def keep_heads(apps, schema_editor):
    """How far every job has come is taken into the register as it stands."""
    from verifyloop.register import heads

    job = apps.get_model("work", "Job")
    for number, seq, head in job.objects.order_by("pk").values_list("number", "seq", "head"):
        if seq:
            heads.keep(f"job {number}", seq, head)


class Migration(migrations.Migration):
    dependencies = [("work", "0015_one_open_job"), ("register", "0002_heads")]

    operations = [migrations.RunPython(keep_heads, migrations.RunPython.noop)]
