"""manage.py migrate: as Django's, and what was done is noted together with doing it.

Django notes some migrations only afterwards: killed in between, it would try to do them twice.
"""

from typing import Any

from django.core.management.commands import migrate
from django.db.migrations.executor import MigrationExecutor


class Whole(MigrationExecutor):
    """Does and notes a migration in one transaction."""

    def apply_migration(
        self, state: Any, migration: Any, fake: bool = False, fake_initial: bool = False
    ) -> Any:
        """Run a migration forwards."""
        if fake or fake_initial or not migration.atomic:
            return super().apply_migration(state, migration, fake, fake_initial)
        if self.progress_callback:
            self.progress_callback("apply_start", migration, fake)
        with self.connection.schema_editor(atomic=True) as editor:
            state = migration.apply(state, editor)
            self.record_migration(migration)  # type: ignore[call-arg]
        if self.progress_callback:
            self.progress_callback("apply_success", migration, fake)
        return state


class Command(migrate.Command):
    def handle(self, *args: Any, **options: Any) -> None:
        django_s = migrate.MigrationExecutor  # type: ignore[attr-defined]
        migrate.MigrationExecutor = Whole  # type: ignore[attr-defined]
        try:
            super().handle(*args, **options)
        finally:
            migrate.MigrationExecutor = django_s  # type: ignore[attr-defined]
