"""manage.py verify_records: name what is not as it was written, and what would be computed anew."""

import json
import sys
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import DatabaseError

from verifyloop.records import outside
from verifyloop.records.verify import Finding, against, check_all, computes_differently, head_now
from verifyloop.register.models import Entry
from verifyloop.work.models import Event, Job


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = (
        "Check chains, register, lists, plan, rules, kit and people; exits 1 and names the first "
        "wrong row of each kind. Says as well which papers today's rules would compute differently."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--job", default="", help="check one job only")
        parser.add_argument("--head", action="store_true", help="print the head to keep elsewhere")
        parser.add_argument("--against", default="", help="file with a head, or a certificate.json")

    def handle(self, *args: Any, **options: Any) -> None:
        if options["head"]:
            self.stdout.write(json.dumps(head_now()))
            return
        found = list(check_all(options["job"]))
        if options["against"]:
            found += against(self._read(options["against"]))
        if not options["job"]:
            found += self._outside()
        for finding in found:
            self.stdout.write(f"{finding.where}: {finding.what}")
        if not found:
            self._differently(options["job"])
        jobs, events, lines = (self._count(m) for m in (Job, Event, Entry))
        said = f"{jobs} jobs, {events} events, {lines} lines of the register: "
        lost = sum(finding.kind == "unreadable" for finding in found)
        if lost:
            said += f"{lost} cannot be read, all others can; "
        self.stdout.write(
            said + (f"{len(found)} findings" if found else "every record is as it was written")
        )
        if found:
            sys.exit(1)

    def _outside(self) -> list[Finding]:
        """Return what does not fit the heads outside; say which places do not answer."""
        compared = outside.compare()
        for place in compared.silent:
            self.stdout.write(f"heads outside: {place} does not answer; nothing is held against it")
        for entry, said in outside.unacknowledged():
            self.stdout.write(
                f"line {entry.pk}: restored from {said['from']}; nobody has acknowledged it yet"
            )
        return compared.findings

    def _count(self, model: Any) -> str:
        try:
            return str(model.objects.count())
        except DatabaseError:
            return "an unknown number of"

    def _read(self, path: str) -> dict[str, Any]:
        try:
            said = json.loads(Path(path).read_text())
            head = said.get("chain", said)
            needed = {name: head[name] for name in ("register_line", "register_seal")}
            return {**needed, "jobs": dict(head.get("jobs", {}))}
        except (OSError, ValueError, KeyError, AttributeError):
            raise CommandError(
                f"{path} has no head. Give what --head printed, or a certificate.json."
            ) from None

    def _differently(self, number: str) -> None:
        """Name the papers that stay as they are and that today's rules would write otherwise."""
        jobs = Job.objects.exclude(signed_at=None).order_by("number")
        for job in jobs.filter(number=number) if number else jobs.iterator(chunk_size=200):
            parts = computes_differently(job)
            if parts:
                self.stdout.write(
                    f"{job.number}: kept as signed; today's rules would say otherwise in: "
                    + ", ".join(parts)
                )
