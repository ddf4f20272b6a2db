"""Addresses: the API, the support pages, and the application page for everything else."""

from django.contrib import admin
from django.urls import path, re_path

from verifyloop.api.main import api
from verifyloop.api.page import application_page

urlpatterns = [
    path("support/", admin.site.urls),
    path("api/", api.urls),
    re_path(r"^(?!api/|support/|assets/|static/).*$", application_page),
]
