"""Who comes in."""

from django.contrib.admin import AdminSite
from django.http import HttpRequest

from verifyloop.accounts.models import User


class SupportSite(AdminSite):
    """Tables and logs as they are, for the administrator."""

    site_header = site_title = "Verify Loop, support"
    index_title = "Tables as they are. What a record rests on is looked at, not changed."
    site_url = "/"

    def has_permission(self, request: HttpRequest) -> bool:
        """Tell whether somebody comes in: the administrator does."""
        user = request.user
        return user.is_active and getattr(user, "role", "") == User.Role.ADMINISTRATOR
