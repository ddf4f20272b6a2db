"""The addresses of the product with the sign-in by the account of the site."""

from django.urls import include, path

from verifyloop.urls import urlpatterns as known

urlpatterns = [path("sso/", include("mozilla_django_oidc.urls")), *known]
