"""The application page: one HTML file for every address that is not the API."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token

NOT_BUILT = "The interface is not built yet. Run: make demo"


def application_page(request: HttpRequest) -> HttpResponse:
    """Return the built page; its scripts find their way by the address."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        return HttpResponse(NOT_BUILT, status=503, content_type="text/plain")
    get_token(request)
    response = HttpResponse(page.read_bytes())
    response["Cache-Control"] = "no-cache"
    response["Content-Security-Policy"] = (
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
        "frame-ancestors 'none'; base-uri 'self'; form-action 'self'"
    )
    return response
