"""Who comes in."""

from django.contrib.admin import AdminSite
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import get_script_prefix

from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import bare


class SupportSite(AdminSite):
    """Tables and logs as they are, for the administrator."""

    site_header = site_title = "Verify Loop, support"
    index_title = "Tables as they are. What a record rests on is looked at, not changed."
    site_url = "/"

    def has_permission(self, request: HttpRequest) -> bool:
        """Tell whether somebody comes in: the administrator does."""
        user = request.user
        administrator = getattr(user, "role", "") == User.Role.ADMINISTRATOR
        return user.is_active and administrator and not bare()

    def login(self, request: HttpRequest, extra_context: object = None) -> HttpResponse:
        """Send a person to the one sign-in; somebody who is signed in may not come in here."""
        if not request.user.is_authenticated:
            return redirect(get_script_prefix())
        said = "The support pages are for the administrator. Sign in as one, then try again."
        return HttpResponse(said, status=403, content_type="text/plain")

    def password_change(  # type: ignore[override]
        self, request: HttpRequest, extra_context: object = None
    ) -> HttpResponse:
        """Send a person to where a password is changed, and where that is written down."""
        return redirect(f"{get_script_prefix()}site?show=password")
