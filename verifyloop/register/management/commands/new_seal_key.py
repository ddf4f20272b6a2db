"""manage.py new_seal_key: from now on another key seals; the earlier ones still prove."""

from typing import Any

from django.core.management.base import BaseCommand

from verifyloop.register import book, keys


class Command(BaseCommand):
    # Django's would read the code of every page first.
    requires_system_checks: list[str] = []
    help = "Add a key to the file of keys. Keep a copy of the file apart from the database."

    def handle(self, *args: Any, **options: Any) -> None:
        number = keys.add_key()
        book.write("key", f"key {number}", {})
        self.stdout.write(f"Key {number} seals from now on. Copy {keys.place()} to a safe place.")
