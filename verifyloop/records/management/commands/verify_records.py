"""manage.py verify_records: name what is not as it was written, and what would be computed anew."""

import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import DatabaseError

from verifyloop.records import outside
from verifyloop.records.verify import Finding, against, check_rest, head_now, keys_of
from verifyloop.records.verify.many import look_at
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
        parser.add_argument(
            "--quick",
            action="store_true",
            help="seals and register alone: what is made from the events is not made again",
        )
        parser.add_argument("--after", default="", help="go on behind this job")
        parser.add_argument("--head", action="store_true", help="print the head to keep elsewhere")
        parser.add_argument("--against", default="", help="file with a head, or a certificate.json")

    def handle(self, *args: Any, **options: Any) -> None:
        if options["head"]:
            self.stdout.write(json.dumps(head_now()))
            return
        found, differ = self._jobs(options)
        if not options["job"]:
            found += check_rest()
        if options["against"]:
            found += against(self._read(options["against"]))
        if not options["job"]:
            found += self._outside()
        for finding in found:
            self.stdout.write(f"{finding.where}: {finding.what}")
        if not found:
            for said in differ:
                self.stdout.write(said)
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

    def _jobs(self, options: dict[str, Any]) -> tuple[list[Finding], list[str]]:
        """Look at the jobs, and say on the error output how far it is and how it is gone on."""
        keys = keys_of(options["job"], options["after"])
        found: list[Finding] = []
        differ: list[str] = []
        last: Sequence[int] = ()

        def tell(done: int, of: int, left_s: float) -> None:
            self.stderr.write(f"{done:,} of {of:,} jobs, {left_s / 60:.1f} min left")

        try:
            for looked in look_at(keys, quick=options["quick"], tell=tell):
                found += looked.findings
                differ += looked.differ
                last = looked.keys
        except KeyboardInterrupt:
            for finding in found:
                self.stdout.write(f"{finding.where}: {finding.what}")
            at = Job.objects.filter(pk__in=last[-1:]).values_list("number", flat=True).first()
            raise CommandError(f"Stopped. Go on with: --after {at or '(from the start)'}") from None
        return found, differ
