"""manage.py unlock: let somebody try their password again at once; the register keeps it."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from verifyloop.accounts.lifting import lift
from verifyloop.errors import DomainError


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = "Forget the wrong passwords of somebody who is kept out."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("username", help="name to sign in with")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            user = lift(actor=None, username=options["username"])
        except DomainError as wrong:
            raise CommandError(f"{wrong.message} {wrong.remedy}") from wrong
        self.stdout.write(f"{user.display_name} may try again.")
