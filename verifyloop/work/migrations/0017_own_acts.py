from django.db import migrations


def adopt(apps, schema_editor):
    """What devices did by themselves before it was in the register is taken into it."""
    from verifyloop.register import book
    from verifyloop.register.kept import row_of, subject_of

    model = apps.get_model("work", "OwnAct")
    for values in model._base_manager.order_by("pk").values():
        book.write("adopted", subject_of(model, values["id"]), row_of(model, values))


class Migration(migrations.Migration):
    dependencies = [("work", "0016_heads"), ("register", "0002_heads")]

    operations = [migrations.RunPython(adopt, migrations.RunPython.noop)]
