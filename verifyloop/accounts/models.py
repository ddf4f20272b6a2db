"""People who sign in."""

from django.contrib.auth.models import AbstractUser
from django.db import models


class User(AbstractUser):
    """A person with one role; the permissions of each role are in ``permissions``."""

    class Role(models.TextChoices):
        TECHNICIAN = "technician"
        REVIEWER = "reviewer"
        PLANNER = "planner"

    role = models.CharField(max_length=20, choices=Role.choices, default=Role.TECHNICIAN)

    @property
    def display_name(self) -> str:
        """Return the name that appears on records."""
        return self.get_full_name() or self.username
