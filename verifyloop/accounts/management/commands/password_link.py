"""manage.py password_link: a link for somebody, where nobody else may make one."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from calibration.kernel.errors import InputError
from verifyloop.accounts.links import LINK_LASTS, link_of_machine
from verifyloop.errors import DomainError


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = "Print a link by which somebody sets a password once. The register keeps that it was."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("username", help="name to sign in with")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            token = link_of_machine(options["username"], timezone.now())
        except (DomainError, InputError) as wrong:
            raise CommandError(f"{wrong.message} {wrong.remedy}") from wrong
        self.stdout.write(
            f"Behind the address of the site: /welcome/{token}\n"
            f"It works once, for {LINK_LASTS.days} days. Give it to its person and to nobody else."
        )
