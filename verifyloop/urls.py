"""Addresses: the API, the support pages, and the application page for everything else."""

from django.conf import settings
from django.contrib import admin
from django.urls import URLPattern, URLResolver, include, path, re_path

from verifyloop.api.main import api
from verifyloop.api.page import application_page

#: Sign-in by the account of the site, where that is set up.
SINGLE: list[URLPattern | URLResolver] = (
    [path("sso/", include("mozilla_django_oidc.urls"))] if settings.SINGLE_SIGN_ON else []
)
urlpatterns: list[URLPattern | URLResolver] = [
    path("support/", admin.site.urls),
    path("api/", api.urls),
    *SINGLE,
    re_path(r"^(?!api/|support/|sso/|assets/|static/).*$", application_page),
]
