"""manage.py heads: hold the records against the heads outside, then send the one of now."""

import sys
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser
from django.utils import timezone

from verifyloop.records import outside


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = (
        "Compare with the newest heads at the places of VERIFYLOOP_HEADS, then send the head of "
        "now there. Run it every night or every hour. Exits 1 where records were set back."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--no-send", action="store_true", help="compare only, send nothing")

    def handle(self, *args: Any, **options: Any) -> None:
        if not settings.HEADS:
            self.stdout.write("VERIFYLOOP_HEADS names no place: heads stay on this machine.")
            return
        found, now = outside.compare(), timezone.now()
        outside.keep_state(found, now)
        for finding in found.findings:
            outside.log.error("set back: %s: %s", finding.where, finding.what)
            self.stdout.write(f"{finding.where}: {finding.what}")
        silent = found.silent
        if found.findings:
            self.stdout.write("Records were set back. No head was sent: those outside stay.")
        elif not options["no_send"]:
            silent = outside.send(now)
            self.stdout.write(f"sent to {len(settings.HEADS) - len(silent)} places")
        for place in silent:
            self.stdout.write(f"does not answer: {place}")
        if found.findings:
            sys.exit(1)
