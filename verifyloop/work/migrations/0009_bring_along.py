from django.db import migrations

KEPT = (
    "accounts.user",
    "bench.sitebuffer",
    "kit.cylinder",
    "kit.reference",
    "plant.area",
    "plant.change",
    "plant.instrument",
    "plant.plan",
    "plant.site",
    "plant.siterule",
)
LATE = "worked out when the database was brought along: it was signed before papers were kept"


def bring_along(apps, schema_editor):
    """What stands in the tables is taken into the register; signed jobs get their papers."""
    from verifyloop.register import book
    from verifyloop.register.kept import row_of, subject_of

    for label in KEPT:
        model = apps.get_model(label)
        for values in model._base_manager.order_by("pk").values():
            book.write("adopted", subject_of(model, values["id"]), row_of(model, values))
    job = apps.get_model("work", "Job")
    for one in job.objects.order_by("pk").iterator(chunk_size=200):
        adopt(apps.get_model("work", "Event"), one)


def adopt(model, job):
    """Take a job into the register as it stands, then issue its paper if it is signed."""
    import uuid

    from django.utils import timezone

    from verifyloop.register import book, keys
    from verifyloop.work.folding import core_job, payload_of, read_payload, state_of_ledger
    from verifyloop.work.issuing import first_issue
    from verifyloop.work.projection import SETTLED, project
    from verifyloop.work.storing import subject_of, tail_of

    book.write("adopted", subject_of(job), {"seq": job.seq, "seal": job.head})
    texts = model.objects.filter(job_id=job.pk).order_by("seq").values_list("payload", flat=True)
    events, now = [read_payload(text) for text in texts], timezone.now()
    ledger = core_job(job, events, events[-1].when).ledger
    project(job, events, state_of_ledger(ledger, events, now))
    if job.signed_at is not None:
        event = first_issue(job, ledger, events, now, late=LATE)
        payload = payload_of(job.number, event)
        job.head, job.seq = keys.seal(job.head, payload), event.seq
        model.objects.create(
            job_id=job.pk,
            seq=event.seq,
            uuid=uuid.UUID(event.id),
            kind=event.kind,
            at=event.when,
            by=event.by,
            actor=None,
            payload=payload,
            seal=job.head,
        )
        book.write("issued", subject_of(job), {"seq": job.seq, "seal": job.head})
        job.changed_at = event.when
    settled = {name: getattr(job, name) for name in SETTLED}
    standing = {"seq": job.seq, "head": job.head, "changed_at": job.changed_at}
    type(job).objects.filter(pk=job.pk).update(**standing, **settled, tail=tail_of(job))


class Migration(migrations.Migration):
    dependencies = [
        ("work", "0008_sealed_papers"),
        ("plant", "0008_sealed_papers"),
        ("kit", "0004_sealed_papers"),
        ("bench", "0001_initial"),
        ("accounts", "0002_sealed_papers"),
        ("register", "0001_register"),
        ("rigs", "0002_commands_apply"),
    ]

    operations = [migrations.RunPython(bring_along, migrations.RunPython.noop)]
