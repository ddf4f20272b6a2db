"""Addresses: the API, and the application page for everything else."""

from django.urls import path, re_path

from verifyloop.api.main import api
from verifyloop.api.page import application_page

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/|static/).*$", application_page),
]
