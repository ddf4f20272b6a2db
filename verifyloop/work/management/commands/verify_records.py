"""manage.py verify_records: recompute every seal and name what does not fit."""

import sys
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from verifyloop.work.audit import check_all
from verifyloop.work.models import Event, Job


class Command(BaseCommand):
    help = "Check the hash chain of every job; exits 1 and names each job that was changed."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--job", default="", help="check one job only")

    def handle(self, *args: Any, **options: Any) -> None:
        found = list(check_all(options["job"]))
        for broken in found:
            self.stdout.write(
                f"{broken.job} ({broken.instrument}), event {broken.seq}: {broken.what}"
            )
        jobs, events = Job.objects.count(), Event.objects.count()
        self.stdout.write(
            f"{jobs} jobs, {events} events: {len(found)} changed from outside"
            if found
            else f"{jobs} jobs, {events} events: every record is as it was written"
        )
        if found:
            sys.exit(1)
