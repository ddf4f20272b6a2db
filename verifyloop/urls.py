"""Addresses: the API, health, the support pages, and the application page for everything else."""

from urllib.parse import quote

from django.conf import settings
from django.contrib import admin
from django.http import HttpRequest, HttpResponse
from django.urls import URLPattern, URLResolver, get_script_prefix, include, path, re_path

from verifyloop.api.main import api
from verifyloop.edge.health import alive, ready
from verifyloop.edge.page import application_page


def moved(request: HttpRequest, rest: str) -> HttpResponse:
    """Lead from an address without a number, as calendars and scripts may have it, to the first."""
    query = request.META.get("QUERY_STRING", "")
    place = f"{get_script_prefix()}api/v1/{quote(rest)}" + (f"?{query}" if query else "")
    # 308: asked again in the same way, with what was sent.
    return HttpResponse(status=308, headers={"Location": place, "Content-Type": "text/plain"})


#: Sign-in by the account of the site, where that is set up.
SINGLE: list[URLPattern | URLResolver] = (
    [path("sso/", include("mozilla_django_oidc.urls"))] if settings.SINGLE_SIGN_ON else []
)
#: What nobody caught is answered in the body of every refusal.
handler500 = "verifyloop.edge.answers.failed"
urlpatterns: list[URLPattern | URLResolver] = [
    path("support/", admin.site.urls),
    path("api/v1/", api.urls),
    re_path(r"^api/(?!v\d)(?P<rest>.*)$", moved, name="api-without-a-number"),
    path("health/alive", alive),
    path("health/ready", ready),
    *SINGLE,
    re_path(
        r"^(?!api/|support/|sso/|health/|assets/|python/|static/).*$", application_page, name="page"
    ),
]
