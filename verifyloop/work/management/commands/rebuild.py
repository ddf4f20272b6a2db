"""manage.py rebuild: make the projection of every job anew from its events."""

from typing import Any

from django.core.management.base import BaseCommand

from verifyloop.register.turns import writing
from verifyloop.work.folding import events_of, projected_at, state_of
from verifyloop.work.models import Job
from verifyloop.work.projection import FIELDS, project


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = "Rebuild the columns that lists use from the events."

    @writing()
    def handle(self, *args: Any, **options: Any) -> None:
        changed = 0
        for job in Job.objects.order_by("pk").iterator(chunk_size=200):
            before = {name: getattr(job, name) for name in FIELDS}
            events = events_of(job)
            project(job, events, state_of(job, events, projected_at(events)))
            after = {name: getattr(job, name) for name in FIELDS}
            if before != after:
                changed += 1
                Job.objects.filter(pk=job.pk).update(**after)
        self.stdout.write(f"rebuilt; {changed} jobs differed")
