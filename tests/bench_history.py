"""What a plant of years has beside its jobs: detectors with a history, and one much-used loop.

Rows of jobs alone, without entries: for the lists that read them, not for what reads entries.
"""

from __future__ import annotations

from datetime import timedelta
from typing import Any

DETECTORS, HOT, HOT_TAG = 500, 2_000, "PT-0799"


def add(jobs: int) -> None:
    """Add them; detectors have a share of all jobs, as many each."""
    from django.utils import timezone

    from tests.server import detectors
    from verifyloop.plant.models import Instrument
    from verifyloop.work.models import Job

    detectors.shelf()
    heads = [detectors.detector(f"D-{n:03d}", "gas_zero_span") for n in range(DETECTORS)]
    model, now = Job.objects.filter(number__startswith="B-").first(), timezone.now()
    each = max(4, jobs // 10 // DETECTORS)
    rows: list[Any] = []

    def row(number: str, instrument: int, days: float, **more: Any) -> None:
        job = Job(**{f.attname: getattr(model, f.attname) for f in Job._meta.concrete_fields})
        job.pk, job.number, job.instrument_id = None, number, instrument
        job.signed_at = job.changed_at = job.opened_at = now - timedelta(days=days)
        for name, value in more.items():
            setattr(job, name, value)
        rows.append(job)

    for n, head in enumerate(heads):
        for k in range(each):
            learnt = {
                "accepted": True, "channel": head.own["channels"][0]["id"],
                "found": 100.0 - k * (1 + n % 5) / 4, "gas": "carbon monoxide",
                "raw": 100.0 - k * (1 + n % 5) / 4, "replaced": False, "set": False, "t90": "18",
            }  # fmt: skip
            days = 1000 * (each - k) / each
            row(f"D-{n:03d}-{k}", head.pk, days, method="gas_zero_span", learnt=[learnt])
    hot = Instrument.objects.get(tag=HOT_TAG).pk
    for k in range(HOT):
        row(f"H-{k:05d}", hot, 1 + k / 2)
    Job.objects.bulk_create(rows, batch_size=1000)
