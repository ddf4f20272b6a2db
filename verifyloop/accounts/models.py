"""People who sign in."""

from django.contrib.auth.models import AbstractUser, UserManager
from django.db import models

from verifyloop.register.kept import Kept, KeptQuerySet


class People(UserManager.from_queryset(KeptQuerySet["User"])):  # type: ignore[misc]
    """Accounts; every change of one is written into the register."""

    #: a migration begins with Django's own
    use_in_migrations = False


class User(Kept, AbstractUser):
    """A person with one role; the permissions of each role are in ``permissions``."""

    class Role(models.TextChoices):
        TECHNICIAN = "technician"
        REVIEWER = "reviewer"
        PLANNER = "planner"

    role = models.CharField(max_length=20, choices=Role.choices, default=Role.TECHNICIAN)

    objects = People()

    @property
    def display_name(self) -> str:
        """Return the name that appears on records."""
        return self.get_full_name() or self.username
