"""manage.py rebuild: make the projection of every job anew from its events."""

import time
from typing import Any

from django.core.management.base import BaseCommand

from verifyloop.work.folding import events_of, projected_at, state_of
from verifyloop.work.models import Job
from verifyloop.work.projection import FIELDS, project

#: How often somebody is told how far it is. [s]
TELL_S = 2.0


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = "Rebuild the columns that lists use from the events; people go on working meanwhile."

    def handle(self, *args: Any, **options: Any) -> None:
        keys = list(Job.objects.order_by("pk").values_list("pk", flat=True))
        changed, told = 0, time.monotonic()
        for done, key in enumerate(keys):
            changed += rebuilt(key)
            if time.monotonic() - told >= TELL_S:
                told = time.monotonic()
                self.stderr.write(f"{done:,} of {len(keys):,} jobs")
        self.stdout.write(f"rebuilt; {changed} jobs differed")


def rebuilt(key: int) -> bool:
    """Make the columns of one job anew; tell whether they differed.

    Nobody waits for it: it is written only where nobody wrote to the job meanwhile.
    """
    while True:
        job = Job.objects.get(pk=key)
        before = {name: getattr(job, name) for name in FIELDS}
        events = events_of(job)
        if len(events) != job.seq:
            # Somebody wrote between both looks; or entries are gone, which is not made good here.
            if Job.objects.filter(pk=key, seq=job.seq).exists():
                return False
            continue
        project(job, events, state_of(job, events, projected_at(events)))
        after = {name: getattr(job, name) for name in FIELDS}
        if before == after:
            return False
        if Job.objects.filter(pk=key, seq=job.seq, head=job.head).update(**after):
            return True
