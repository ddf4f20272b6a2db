"""manage.py demo: fill an empty database with the made-up works."""

from importlib import import_module
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from verifyloop.accounts.models import User
from verifyloop.demo.works import PASSWORD, PEOPLE, SITE
from verifyloop.plant.selectors import site_now

REAL = "There is data of a plant here. The demo keeps its own: VERIFYLOOP_DATA=var/demo"


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = "Bring the tables up to date, fill an empty database, print the sign-ins."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--address", default="", help="address to print")

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        site = site_now()
        # Known passwords are made where nothing else is, and nowhere else.
        if User.objects.exists() and not (site is not None and site.demo):
            raise CommandError(REAL)
        if site is not None:
            self.stdout.write("The data of earlier is kept; start afresh with: make demo-fresh")
        else:
            self.stdout.write(f"Making {SITE}: three years of history from one seed ...")
            import_module("verifyloop.demo.history").build(timezone.now())
        if options["address"]:
            self.stdout.write(f"\n  {SITE} is at {options['address']}\n")
        for username, first, last, role in PEOPLE:
            self.stdout.write(
                f"  {role:<11} name {username:<6} password {PASSWORD}   ({first} {last})"
            )
        self.stdout.write("")
