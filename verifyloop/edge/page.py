"""The application page: one HTML file for every address that is not the API."""

from html import escape

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token

from verifyloop.edge.release import release

#: What the built page has in the place of it.
BASE = '<base href="/" />'
NOT_BUILT = "The interface is not built yet. Run: make demo"


def application_page(request: HttpRequest) -> HttpResponse:
    """Return the built page, told below which path it lies and of which release it is."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        return HttpResponse(NOT_BUILT, status=503, content_type="text/plain")
    get_token(request)
    told = (
        f'<base href="{escape(settings.BASE_PATH)}" />'
        f'<meta name="release" content="{escape(release())}" />'
    )
    response = HttpResponse(page.read_text().replace(BASE, told, 1))
    response["Cache-Control"] = "no-cache"
    return response
