from django.db import migrations, models

LEFT = {"failed": "outside", "limited": "outside", "stopped": ""}


def work_out(apps, schema_editor):
    """Signed jobs get their outcome, worked out anew; their instruments that of the last one."""
    from calibration.engine.method.family import method_for
    from calibration.engine.job.job import Job as CoreJob
    from calibration.engine.job.ledger import build
    from calibration.engine.judging.outcome import outcome
    from calibration.kernel.numbers import exact
    from verifyloop.work.folding import read_payload

    job, event = apps.get_model("work", "Job"), apps.get_model("work", "Event")
    instrument = apps.get_model("plant", "Instrument")
    for one in job.objects.exclude(signed_at=None).order_by("signed_at", "pk"):
        texts = event.objects.filter(job_id=one.pk).order_by("seq").values_list("payload", flat=True)
        events = [read_payload(text) for text in texts]
        method = method_for(one.method, one.method_version)
        with exact():
            found = outcome(CoreJob(build(method, events), events[-1].when)).id
        left = LEFT.get(found, one.mark_left)
        job.objects.filter(pk=one.pk).update(outcome=found, mark_left=left)
        last = {"last_outcome": found}
        if found in LEFT:
            last["last_mark_left"] = left
        instrument.objects.filter(pk=one.instrument_id, last_on=one.signed_at.date()).update(**last)


class Migration(migrations.Migration):
    dependencies = [("work", "0006_rounds"), ("plant", "0007_last_outcome")]

    operations = [
        migrations.AddField(
            model_name="job",
            name="outcome",
            field=models.CharField(blank=True, max_length=10),
        ),
        migrations.RunPython(work_out, migrations.RunPython.noop),
    ]
