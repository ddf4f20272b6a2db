"""manage.py backup FOLDER: copy all data while work goes on."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection
from django.utils import timezone

from verifyloop.files.services import folder as attachments
from verifyloop.records.backup import BackupError, back_up, copy_keys
from verifyloop.records.database_transfer import write_file


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = (
        "Copy the database, of one moment, into a new folder below FOLDER; the server goes on. "
        "The keys of the seals are not in it: copy them with --keys to another place."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("folder", help="where the copy goes")
        parser.add_argument("--keys", default="", help="another folder, for the keys of the seals")

    def handle(self, *args: Any, **options: Any) -> None:
        sqlite = connection.vendor == "sqlite"
        database = Path(str(settings.DATABASES["default"]["NAME"])) if sqlite else write_file
        try:
            into = Path(options["folder"])
            copied = back_up(database, into, timezone.now(), attachments=attachments())
            if options["keys"]:
                copy_keys(Path(settings.SEAL_KEYS), Path(options["keys"]))
        except BackupError as refused:
            raise CommandError(str(refused)) from None
        self.stdout.write(
            f"{copied.folder}: {copied.size} bytes, up to line {copied.register_line} of the "
            f"register, {copied.files} attachments"
        )
