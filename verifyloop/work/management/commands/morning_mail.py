"""manage.py morning_mail: send what is due to everybody who wants it, once a morning."""

from typing import Any

from django.conf import settings
from django.core.mail import get_connection, send_mail
from django.core.management.base import BaseCommand, CommandParser
from django.utils import timezone

from verifyloop.accounts.models import User
from verifyloop.plant.site_address import address
from verifyloop.work.morning import morning_mail


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = (
        "Send what is due to everybody who wants it. Run it once a morning (cron, a timer). "
        "Without a mail server in the settings it is printed here."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--address", default=address(), help="of the site, in the mail")

    def handle(self, *args: Any, **options: Any) -> None:
        today, sent = timezone.localdate(), 0
        wanting = User.objects.filter(daily_mail=True, is_active=True).exclude(email="")
        connection = get_connection()
        for person in wanting.order_by("username"):
            found = morning_mail(person, today, options["address"])
            if found is not None:
                subject, text = found
                sender = settings.DEFAULT_FROM_EMAIL
                sent += send_mail(subject, text, sender, [person.email], connection=connection)
        self.stdout.write(f"{sent} sent")
