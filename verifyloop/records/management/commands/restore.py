"""manage.py restore FOLDER: put a backup in the place of data that are gone, and verify it."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from verifyloop.files.services import folder as attachments
from verifyloop.records import outside
from verifyloop.records.backup import BackupError, restore, restore_rows
from verifyloop.records.database_transfer import CarryError, read_file


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = (
        "Put the copy of FOLDER where the database was; nothing that is there is overwritten. "
        "Tables are brought up to date, and every record is verified with the keys of this site."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("folder", help="the folder that backup made")

    def handle(self, *args: Any, **options: Any) -> None:
        folder, where = Path(options["folder"]), "the database"
        # Looked at first: a record that nobody can verify is not put into place.
        if not Path(settings.SEAL_KEYS).exists():
            raise CommandError(
                f"The keys of the seals are missing ({settings.SEAL_KEYS}). Bring them back from "
                "where they are kept apart, then restore. Nothing was written."
            )
        try:
            if connection.vendor == "sqlite":
                connection.close()
                where = str(settings.DATABASES["default"]["NAME"])
                copied = restore(folder, Path(where), attachments())
            else:
                call_command("migrate", verbosity=0)
                copied = restore_rows(folder, read_file, attachments())
        except (BackupError, CarryError) as refused:
            raise CommandError(str(refused)) from None
        self.stdout.write(f"{where}: restored up to line {copied.register_line}")
        call_command("migrate", verbosity=0)
        for lost in outside.restored(str(folder), copied.made_at):
            self.stdout.write(f"lost by it: {lost}")
        self.stdout.write("Written into the register; a planner acknowledges it after signing in.")
        call_command("verify_records", stdout=self.stdout)
