"""manage.py worker: do background tasks, one after the other, and show that it lives."""

import threading
import time
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand

from verifyloop.edge.health import beat
from verifyloop.lists.storing import begin_again

#: How often it shows that it lives. [s]
EVERY = 5


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = "Do background tasks until it is ended; the server starts it by itself."

    def handle(self, *args: Any, **options: Any) -> None:
        threading.Thread(target=_live, daemon=True).start()
        again = begin_again()
        if again:
            self.stdout.write(f"{again} lists go on")
        call_command("db_worker", "--interval", "0.5", "--no-startup-delay", verbosity=0)


def _live() -> None:
    while True:
        beat().touch()
        time.sleep(EVERY)
