"""manage.py start: bring the tables up to date, and say how to begin."""

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from verifyloop.plant.selectors import site_now
from verifyloop.plant.site_address import address
from verifyloop.plant.start import first_key, is_empty


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = "Bring the tables of a plant's own data up to date; print the way in."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--address", default=address(), help="address to print")

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        site = site_now()
        if site is not None and site.demo:
            raise CommandError("This is the data of the demo. Start it with: make demo")
        if is_empty():
            self.stdout.write("\n  Nothing is here yet. Make the site and its first planner at")
            self.stdout.write(f"  {options['address']}/?key={first_key()}\n")
        else:
            self.stdout.write(f"\n  {site.name if site else ''} is at {options['address']}\n")
